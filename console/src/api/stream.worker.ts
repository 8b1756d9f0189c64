import { type Said, type Source, StreamHub } from "./streamHub";
import { TOPICS } from "./topics";

/** The one stream of this browser; every tab has a port to it. */
const hub = new StreamHub((address) => new EventSource(address) as unknown as Source, Object.keys(TOPICS));

(self as unknown as { onconnect: (event: MessageEvent) => void }).onconnect = ({ ports: [port] }) => {
  const hear = hub.add(port);
  port.onmessage = ({ data }: MessageEvent<Said>) => hear(data);
};

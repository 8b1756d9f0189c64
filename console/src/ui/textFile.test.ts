import { expect, it } from "vitest";
import { readText } from "./textFile";

it("reads UTF-8, with or without its mark, and refuses what is none by the file's name", async () => {
  expect(await readText(new File(["\uFEFFroute;port\n1;Skarhølm\n"], "routes.csv"))).toBe("route;port\n1;Skarhølm\n");
  await expect(readText(new File([new Uint8Array([0x53, 0xf8, 0x6c])], "routes.csv"))).rejects.toThrow(
    /^routes\.csv is not written in UTF-8/,
  );
});

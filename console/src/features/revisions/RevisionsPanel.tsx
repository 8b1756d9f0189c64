import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { get } from "../../api/client";
import type { RevisionView } from "../../api/types";
import { useSaveDefinition } from "../../api/useSaveDefinition";
import { Ask } from "../../ui/Ask";
import { Asked, Coming } from "../../ui/Asked";
import { Folded } from "../../ui/Folded";
import { Time } from "../../ui/Time";

const SideBySide = lazy(() => import("../../ui/SideBySide"));
const SHOWN = 12;

type Props = {
  /** The things' place in the API, such as jobs. */
  nouns: string;
  name: string;
  tag?: string;
  mayPutBack: boolean;
  /** The queries that a put-back makes stale. */
  stale: string[];
};

/** What it was defined as, from change to change; each beside the one before it, and to be put back. */
export function RevisionsPanel(props: Props) {
  const [open, setOpen] = useState(false);
  return (
    <Folded title="Revisions" onOpen={() => setOpen(true)}>
      {open && <Revisions {...props} />}
    </Folded>
  );
}

function Revisions({ nouns, name, tag, mayPutBack, stale }: Props) {
  const path = `/api/v1/${nouns}/${encodeURIComponent(name)}/revisions`;
  const revisions = useQuery({
    queryKey: [stale[0], name, "revisions", tag],
    queryFn: () => get<RevisionView[]>(path),
  });
  const save = useSaveDefinition(nouns, name, stale);
  const [looked, setLooked] = useState<number>();
  const [back, setBack] = useState<RevisionView>();
  const [all, setAll] = useState(false);
  return (
    <Asked query={revisions}>
      {(found) => {
        const newest = [...found].sort((a, b) => b.revision - a.revision);
        const before = (revision: number) => newest.find((each) => each.revision < revision);
        return (
          <Box component="ol" aria-label={`Revisions of ${name}`} sx={{ m: 0, p: 0, listStyle: "none" }}>
            {newest.slice(0, all ? undefined : SHOWN).map((each, index) => (
              <Box key={each.revision} component="li" sx={{ borderTop: 1, borderColor: "divider", py: 0.5 }}>
                <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center" }}>
                  <Box sx={{ flex: 1, minWidth: 180 }}>
                    revision {each.revision}
                    {index === 0 && " (now)"}, <Time at={each.madeAt} />, {each.madeBy}
                  </Box>
                  {before(each.revision) && (
                    <Button
                      aria-expanded={looked === each.revision}
                      onClick={() => setLooked(looked === each.revision ? undefined : each.revision)}
                    >
                      What changed
                    </Button>
                  )}
                  {index > 0 && mayPutBack && <Button onClick={() => setBack(each)}>Put back</Button>}
                </Box>
                {looked === each.revision && (
                  <Suspense fallback={<Coming lines={3} />}>
                    <SideBySide left={before(each.revision)?.definition ?? ""} right={each.definition} />
                  </Suspense>
                )}
              </Box>
            ))}
            {newest.length > SHOWN && !all && <Button onClick={() => setAll(true)}>All {newest.length}</Button>}
            {back && (
              <Ask
                title={`Put revision ${back.revision} of ${name} back?`}
                deed="Put it back"
                danger={false}
                busy={save.isPending}
                error={save.error}
                onClose={() => setBack(undefined)}
                onYes={() => save.mutate({ definition: back.definition, tag }, { onSuccess: () => setBack(undefined) })}
              >
                <Box sx={{ mb: 1 }}>It becomes the newest revision; those after it stay in this list.</Box>
                <Suspense fallback={<Coming lines={3} />}>
                  <SideBySide left={newest[0].definition} right={back.definition} />
                </Suspense>
              </Ask>
            )}
          </Box>
        );
      }}
    </Asked>
  );
}

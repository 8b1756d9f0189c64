import { useParams, useSearchParams } from "react-router";
import { NotYet } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { useMe } from "../../ui/me";
import { ReadOnly } from "../../ui/ReadOnly";
import { NEW_CHAIN } from "../chain/chainDraft";
import { NEW_TASK } from "./draft";
import { JobEditor } from "./JobEditor";
import { useJob } from "./useJobs";

/** Makes a job, or changes one. */
export function JobEditorPage() {
  const { name = "" } = useParams();
  const me = useMe();
  const [address] = useSearchParams();
  const job = useJob(name);
  if (name && !job.data) return <NotYet query={job} />;
  const known = job.data?.body;
  if (known && (!known.mayDo.includes("define-jobs") || known.retired)) {
    return (
      <ReadOnly
        title={name}
        why={
          known.retired
            ? "It is retired, so it cannot be changed."
            : `You may look; changing it is for editors of ${known.team}.`
        }
        text={known.definition}
      />
    );
  }
  if (!name && !Object.values(me.teams).some((deeds) => deeds.includes("define-jobs"))) {
    return <Empty title="You may not make jobs" hint="Editors of a team may; a manager of the team makes you one." />;
  }
  return (
    <JobEditor
      key={name}
      name={name}
      written={job.data?.body.definition ?? (address.has("chain") ? NEW_CHAIN : NEW_TASK)}
      tag={job.data?.tag}
    />
  );
}

import { useParams } from "react-router";
import { NotYet } from "../../ui/Asked";
import { NEW_TASK } from "./draft";
import { JobEditor } from "./JobEditor";
import { useJob } from "./useJobs";

/** Makes a job, or changes one. */
export function JobEditorPage() {
  const { name = "" } = useParams();
  const job = useJob(name);
  if (name && !job.data) return <NotYet query={job} />;
  return <JobEditor key={name} name={name} written={job.data?.body.definition ?? NEW_TASK} tag={job.data?.tag} />;
}

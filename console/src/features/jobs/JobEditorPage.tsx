import { useParams } from "react-router";
import { Trouble } from "../../ui/Trouble";
import { NEW_TASK } from "./draft";
import { JobEditor } from "./JobEditor";
import { useJob } from "./useJobs";

/** Makes a job, or changes one. */
export function JobEditorPage() {
  const { name = "" } = useParams();
  const job = useJob(name);
  if (job.error) return <Trouble error={job.error} />;
  if (name && !job.data) return null;
  return <JobEditor key={name} name={name} written={job.data?.body.definition ?? NEW_TASK} tag={job.data?.tag} />;
}

import { useParams } from "react-router";
import { NotYet } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { useBoardZone } from "../../ui/useBoardZone";
import { useJob } from "../jobs/useJobs";
import { ScheduleEditor } from "./ScheduleEditor";
import { readSchedule } from "./scheduleDraft";

const NEW = {
  name: "",
  when: "every day at 02:30",
  calendar: "",
  except: "",
  shift: "",
  window: "",
  from: "",
  until: "",
};

/** Changes a schedule of a job, or gives it a new one. */
export function ScheduleEditorPage() {
  const { name = "", schedule = "" } = useParams();
  const job = useJob(name);
  const usual = useBoardZone();
  if (!job.data) return <NotYet query={job} />;
  const { body, tag } = job.data;
  const zone = body.schedules[0]?.zone ?? usual;
  const draft = schedule ? readSchedule(body.definition, schedule) : { ...NEW, zone };
  if (!draft)
    return <Empty title={`${name} has no schedule ${schedule}`} hint="It may have been renamed or taken out." />;
  return <ScheduleEditor key={schedule} job={body} tag={tag} schedule={schedule} written={draft} />;
}

import Box from "@mui/material/Box";
import { useParams } from "react-router";
import type { Job } from "../../api/types";
import { NotYet } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { PageTitle } from "../../ui/PageTitle";
import { Panel } from "../../ui/Panel";
import { useBoardZone } from "../../ui/useBoardZone";
import { ScheduleList } from "../jobs/ScheduleList";
import { useJob } from "../jobs/useJobs";
import { Occurrences } from "./Occurrences";
import { ScheduleEditor } from "./ScheduleEditor";
import { readSchedule } from "./scheduleDraft";
import { WhyThen } from "./WhyThen";

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
  const may = body.mayDo.includes("define-jobs") && !body.retired;
  return (
    <>
      {may ? (
        <ScheduleEditor key={schedule} job={body} tag={tag} schedule={schedule} written={draft} />
      ) : (
        <ScheduleSheet job={body} schedule={schedule} />
      )}
      {schedule && (
        <Box sx={{ mt: 2 }}>
          <Panel title="What became of its starts">
            <WhyThen job={name} schedule={schedule} zone={draft.zone || zone} />
            <Occurrences job={name} schedule={schedule} zone={draft.zone || zone} />
          </Panel>
        </Box>
      )}
    </>
  );
}

/** A schedule for whoever may look and not change. */
function ScheduleSheet({ job, schedule }: { job: Job; schedule: string }) {
  return (
    <>
      <PageTitle title={`Schedule ${schedule}`} about={`of ${job.name}; changing it is for editors of ${job.team}`} />
      <Panel title="When">
        <ScheduleList job={{ ...job, schedules: job.schedules.filter((each) => each.name === schedule) }} />
      </Panel>
    </>
  );
}

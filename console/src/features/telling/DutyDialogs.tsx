import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Telling } from "../../api/types";
import { FormDialog } from "../../ui/FormDialog";
import { isMoment, MomentField } from "../../ui/MomentField";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";
import { useCover, useSwap } from "./useTelling";

type Props = { duty: Telling; onDone: () => void };

/** Has somebody stand in on a duty list; oneself where one may not change the list. */
export function StandInDialog({ duty, onDone }: Props) {
  const me = useMe();
  const [from, setFrom] = useState("");
  const [until, setUntil] = useState("");
  const [person, setPerson] = useState(me.name);
  const cover = useCover(duty);
  const ready = isMoment(from, true) && isMoment(until, true) && until > from && person.trim() !== "";
  return (
    <FormDialog
      title={`Stand in on ${duty.name}`}
      onClose={onDone}
      changed={from !== "" || until !== ""}
      actions={
        <Button
          variant="contained"
          disabled={!ready || cover.isPending}
          onClick={() => cover.mutate({ from, until, person: person.trim() }, { onSuccess: onDone })}
        >
          Save
        </Button>
      }
    >
      <MomentField
        label="From"
        value={from}
        dayOnly
        help="the day on which it begins, at the hour of handover"
        onChange={setFrom}
      />
      <MomentField
        label="Until"
        value={until}
        dayOnly
        help="the day on which it ends, at the hour of handover"
        error={isMoment(until, true) && until <= from ? "a day after the first would be right" : undefined}
        onChange={setUntil}
      />
      <TextField
        size="small"
        label="Who stands in"
        value={person}
        disabled={!duty.mayChange}
        helperText={duty.mayChange ? "a person, such as mara.holt" : "for others only whoever may change the list"}
        onChange={(event) => setPerson(event.target.value)}
      />
      <Trouble error={cover.error} />
    </FormDialog>
  );
}

/** Exchanges two weeks of a duty list. */
export function SwapDialog({ duty, onDone }: Props) {
  const [week, setWeek] = useState("");
  const [other, setOther] = useState("");
  const swap = useSwap(duty);
  return (
    <FormDialog
      title={`Swap two weeks of ${duty.name}`}
      onClose={onDone}
      changed={week !== "" || other !== ""}
      actions={
        <Button
          variant="contained"
          disabled={!isMoment(week, true) || !isMoment(other, true) || swap.isPending}
          onClick={() => swap.mutate({ week, with: other }, { onSuccess: onDone })}
        >
          Swap
        </Button>
      }
    >
      <MomentField label="One week" value={week} dayOnly help="any of its days" onChange={setWeek} />
      <MomentField label="The other" value={other} dayOnly help="any of its days" onChange={setOther} />
      <Trouble error={swap.error} />
    </FormDialog>
  );
}

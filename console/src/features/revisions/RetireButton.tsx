import Button from "@mui/material/Button";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useCall } from "../../api/useCall";
import { Ask } from "../../ui/Ask";

type Props = {
  nouns: string;
  noun: string;
  name: string;
  then: string;
  stale: string[];
  usedBy?: string[];
  note?: string;
};

/** Takes something out of use, having asked; what still uses it is named. */
export function RetireButton({ nouns, noun, name, then, stale, usedBy = [], note }: Props) {
  const [asking, setAsking] = useState(false);
  const retire = useCall(...stale);
  const navigate = useNavigate();
  return (
    <>
      <Button color="error" onClick={() => setAsking(true)}>
        Retire
      </Button>
      {asking && (
        <Ask
          title={`Retire the ${noun} ${name}?`}
          deed="Retire it"
          busy={retire.isPending}
          error={retire.error}
          onClose={() => setAsking(false)}
          onYes={() =>
            retire.mutate(
              { method: "DELETE", path: `/api/v1/${nouns}/${encodeURIComponent(name)}` },
              { onSuccess: () => navigate(then) },
            )
          }
        >
          {usedBy.length > 0
            ? `It is still used by ${usedBy.join(", ")}; those have to be changed or retired first.`
            : `It is out of use from now on. Its history and its revisions stay.${note ? ` ${note}` : ""}`}
        </Ask>
      )}
    </>
  );
}

import { Choice } from "../../ui/Choice";
import { Folded } from "../../ui/Folded";
import { LazyField } from "../../ui/LazyField";
import { nameOf, WORK, type WorkField } from "./work";

type Props = { kind: string; work: Record<string, string>; onWork: (field: WorkField, value: string) => void };

/** The fields of what a task does; those that few need are folded away. */
export function WorkFields({ kind, work, onWork }: Props) {
  const fields = WORK[kind]?.fields ?? [];
  const rare = fields.filter((each) => each.rare);
  const field = (each: WorkField) => (
    <Field key={nameOf(each)} field={each} value={work[nameOf(each)] ?? ""} onChange={(value) => onWork(each, value)} />
  );
  return (
    <>
      {fields.filter((each) => !each.rare).map(field)}
      {rare.length > 0 && (
        <Folded key={kind} title="More of what it does" open={rare.some((each) => work[nameOf(each)])}>
          {rare.map(field)}
        </Folded>
      )}
    </>
  );
}

function Field({ field, value, onChange }: { field: WorkField; value: string; onChange: (value: string) => void }) {
  const { label, help, options, shape, multiline } = field;
  if (options) return <Choice label={label} help={help} options={options} value={value} onChange={onChange} />;
  const many = multiline || (shape !== undefined && shape !== "text");
  return <LazyField live label={label} help={help} multiline={many} value={value} onCommit={onChange} />;
}

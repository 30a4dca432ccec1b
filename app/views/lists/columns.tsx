import { useEffect, useState } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Checkbox, Hidden } from "#app/ui/field.tsx";
import { Popover } from "#app/ui/layers.tsx";
import { Sortable } from "#app/ui/sortable.tsx";
import type { Column } from "#server/search/columns.ts";
import { COLUMN } from "./pieces-table.tsx";

interface Props {
  columns: readonly Column[];
  /** All there are. */
  all: readonly Column[];
  answer: FormAnswer | null;
}

/** Chooses which columns one's own list has, and puts them in order. */
export function ColumnsChooser({ columns, all, answer }: Props) {
  const [open, setOpen] = useState(false);
  const kept = answer?.intent === "columns" && !answer.refusal;
  // biome-ignore lint/correctness/useExhaustiveDependencies: each answer is heard once
  useEffect(() => {
    if (kept) setOpen(false);
  }, [answer]);
  return (
    <div className="max-lg:hidden">
      <Popover
        label="Columns of this list"
        open={open}
        onOpen={setOpen}
        trigger={
          <Button type="button" look="word">
            Columns
          </Button>
        }
      >
        <Choosing {...{ columns, all, answer }} />
      </Popover>
    </div>
  );
}

function Choosing({ columns, all, answer }: Props) {
  const busy = useBusy("columns");
  const [order, setOrder] = useState<readonly Column[]>(() => [
    ...columns,
    ...all.filter((key) => !columns.includes(key)),
  ]);
  const [chosen, setChosen] = useState<ReadonlySet<Column>>(new Set(columns));
  const toggle = (key: Column) => {
    const next = new Set(chosen);
    if (!next.delete(key)) next.add(key);
    setChosen(next);
  };
  return (
    <div className="w-72">
      <Sortable
        label="Columns"
        items={order}
        keyOf={(key) => key}
        nameOf={(key) => COLUMN[key].name}
        onMove={(from, to) => setOrder(order.toSpliced(from, 1).toSpliced(to, 0, order[from] as Column))}
      >
        {(key) => (
          <Checkbox checked={chosen.has(key)} onChange={() => toggle(key)}>
            {COLUMN[key].name}
          </Checkbox>
        )}
      </Sortable>
      <div className="mt-3 flex items-center gap-4">
        <ActionForm intent="columns" answer={answer}>
          {order
            .filter((key) => chosen.has(key))
            .map((key) => (
              <Hidden key={key} name="columns[]" value={key} />
            ))}
          <Button look="go" busy={busy} disabled={chosen.size === 0}>
            Show these
          </Button>
        </ActionForm>
        <ActionForm intent="columns" answer={null}>
          <Button look="word">The usual ones</Button>
        </ActionForm>
      </div>
    </div>
  );
}

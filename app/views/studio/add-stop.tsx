import { useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { Input } from "#app/ui/field.tsx";
import { Popover } from "#app/ui/layers.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import type { People } from "#core/people/document.ts";
import type { StateKind, Workflow } from "#core/workflow/document.ts";
import { addState } from "#core/workflow/editing/edit.ts";
import { KINDS, type PanelProps, reviewerOf } from "./state-panel.tsx";

/** Puts a new stop in, behind another or beside the line: asks its name and its kind where it is pressed. */
export function AddStop({
  label,
  after,
  small = false,
  workflow,
  people,
  change,
  select,
}: { label: string; after: string | null; small?: boolean; people: People } & Omit<PanelProps, "people" | "locked">) {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      label={label}
      open={open}
      onOpen={setOpen}
      trigger={
        small ? (
          <Button
            type="button"
            look="bare"
            aria-label={label}
            title={label}
            className="group flex size-[26px] items-center justify-center"
          >
            <span className="flex size-4.5 items-center justify-center rounded-full border border-ink bg-paper text-12 leading-none group-hover:border-blue group-hover:bg-blue group-hover:text-paper group-data-[state=open]:border-blue group-data-[state=open]:bg-wash">
              +
            </span>
          </Button>
        ) : (
          <Button
            type="button"
            look="bare"
            className="rounded border border-track px-2 text-12 text-ink hover:border-ink"
          >
            {label}
          </Button>
        )
      }
    >
      <form
        className="w-56 space-y-2"
        onSubmit={(event) => {
          event.preventDefault();
          const form = new FormData(event.currentTarget);
          const name = String(form.get("name")).trim();
          if (!name) return;
          const kind = String(form.get("kind")) as StateKind;
          const add = (now: Workflow) => addState(now, name, kind, after, reviewerOf(people));
          change((now) => add(now).workflow);
          select({ state: add(workflow).key });
          setOpen(false);
        }}
      >
        <label className="block text-13">
          <span className="font-semibold">Name of the stop</span>
          <Input look="small" name="name" required maxLength={80} autoComplete="off" className="mt-1 w-full" />
        </label>
        <label className="block text-13">
          <span className="font-semibold">Kind</span>
          <Select name="kind" defaultValue={after === null ? "parked" : "review"} className="mt-1 w-full">
            {KINDS.map(([key, words]) => (
              <Option key={key} value={key}>
                {words}
              </Option>
            ))}
          </Select>
        </label>
        <Button look="go">Add</Button>
      </form>
    </Popover>
  );
}

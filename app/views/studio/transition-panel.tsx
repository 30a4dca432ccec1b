import { Button } from "#app/ui/button.tsx";
import { Checkbox } from "#app/ui/field.tsx";
import type { Transition } from "#core/workflow/document.ts";
import { outcomeKeys } from "#core/workflow/document.ts";
import { changeTransition, removeTransition, type TransitionChange } from "#core/workflow/editing/edit.ts";
import { Principals } from "./principals.tsx";
import { ChoiceSetting, Group, NameSetting, YesSetting } from "./settings.tsx";
import type { PanelProps } from "./state-panel.tsx";

const REQUIREMENTS = [
  ["fields", "its fields are complete"],
  ["checklist", "the checklist is done"],
  ["comments-settled", "comments are settled"],
  ["note", "a note is written"],
  ["publish-date", "a publish date is set"],
  ["not-author", "it is not the author who takes it"],
] as const;

/** Everything that can be set of one step. */
export function TransitionPanel({ step, workflow, people, locked, change, select }: PanelProps & { step: Transition }) {
  const put = (part: TransitionChange, setting: string | null = null) =>
    change((before) => changeTransition(before, step.key, part), setting && `${step.key} ${setting}`);
  const byReview = outcomeKeys(workflow).has(step.key);
  const shared = { people, locked };
  return (
    <>
      <h2 className="text-19!">{step.name}</h2>
      <p className="text-13 text-rail">
        A step{byReview ? ", taken by its review when it is decided" : ""}.{" "}
        {step.from.map((key) => (
          <Button look="word" key={key} type="button" onClick={() => select({ state: key })}>
            {workflow.states.find((state) => state.key === key)?.name}
          </Button>
        ))}
      </p>
      <Group title="The step">
        <NameSetting label="Name" value={step.name} locked={locked} onChange={(name) => put({ name }, "name")} />
        <ChoiceSetting
          label="Leads to"
          value={step.to}
          options={workflow.states.map((state) => [state.key, state.name] as const)}
          locked={locked}
          onChange={(to) => put({ to })}
        />
      </Group>
      <Group title="Readers">
        <YesSetting
          label="Takes the piece away from readers"
          value={step.withdraws ?? false}
          locked={locked}
          onChange={(withdraws) => put({ withdraws: withdraws || undefined })}
        />
      </Group>
      <Group title="It leaves">
        <div className="grid grid-cols-2 gap-x-3 py-1.5">
          {workflow.states.map((state) => {
            const leaves = step.from.includes(state.key);
            return (
              <Checkbox
                checked={leaves}
                disabled={locked || (leaves && step.from.length === 1)}
                className="size-4 shrink-0"
                onChange={() =>
                  put({ from: leaves ? step.from.filter((key) => key !== state.key) : [...step.from, state.key] })
                }
                key={state.key}
              >
                <span className="truncate">{state.name}</span>
              </Checkbox>
            );
          })}
        </div>
      </Group>
      <Group title="Who">
        <Principals label="May take it" value={step.by} {...shared} onChange={(by) => put({ by })} />
        <Principals
          label="Are told"
          value={step.notify}
          generic={["author", "assignee"]}
          {...shared}
          onChange={(notify) => put({ notify })}
        />
      </Group>
      <Group title="Only when">
        <div className="py-1.5">
          {REQUIREMENTS.map(([key, words]) => (
            <Checkbox
              checked={step.requires.includes(key)}
              disabled={locked}
              className="size-4"
              onChange={(event) =>
                put({
                  requires: event.target.checked ? [...step.requires, key] : step.requires.filter((one) => one !== key),
                })
              }
              key={key}
            >
              {words}
            </Checkbox>
          ))}
        </div>
      </Group>
      {!locked && (
        <Button
          type="button"
          look="quiet"
          className="mt-4"
          onClick={() => {
            change((before) => removeTransition(before, step.key));
            select(null);
          }}
        >
          Take this step out
        </Button>
      )}
    </>
  );
}

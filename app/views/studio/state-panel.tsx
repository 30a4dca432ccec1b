import { Button } from "#app/ui/button.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { sayStep } from "#app/views/workflow/line.tsx";
import type { People } from "#core/people/document.ts";
import type { State, StateKind, Workflow } from "#core/workflow/document.ts";
import {
  addTransition,
  asKind,
  changeState,
  moveState,
  nameTo,
  removeState,
  type StateChange,
  switchState,
} from "#core/workflow/editing/edit.ts";
import { KIND_WORDS } from "#core/workflow/migrate.ts";
import { Principals } from "./principals.tsx";
import { ReviewSettings } from "./review-settings.tsx";
import { ChoiceSetting, Group, NameSetting, TakeSetting, TextSetting, YesSetting } from "./settings.tsx";

export interface PanelProps {
  workflow: Workflow;
  people: People;
  locked: boolean;
  change(make: (workflow: Workflow) => Workflow, setting?: string | null): void;
  select(chosen: Chosen): void;
}

/** What is chosen in the studio: a stop, a step, or the workflow as a whole. */
export type Chosen = { state: string } | { transition: string } | null;

export const KINDS = Object.entries(KIND_WORDS) as [StateKind, string][];

/** The role a new review is given first: one whose people may review, else the first there is. */
export const reviewerOf = ({ roles }: People) =>
  (roles.find((role) => role.permissions.includes("review.decide")) ?? roles[0])?.key ?? "reviewer";

/** Everything that can be set at one stop. */
export function StatePanel({ state, workflow, people, locked, change, select }: PanelProps & { state: State }) {
  const { key } = state;
  const put = (part: StateChange, setting: string | null = null) =>
    change((before) => changeState(before, key, part), setting && `${key} ${setting}`);
  const arrive = (part: Partial<State["arrival"]>, setting: string | null = null) =>
    put({ arrival: { ...state.arrival, ...part } }, setting);
  const leaving = workflow.transitions.filter((step) => step.from.includes(key));
  const from = workflow.states.filter((one) =>
    workflow.transitions.some((step) => step.to === key && step.from.includes(one.key)),
  );
  const shared = { people, locked };
  return (
    <>
      <h2 className="text-19!">{state.name}</h2>
      <p className="text-13 text-rail">
        {from.length > 0
          ? `Pieces arrive from ${from.map((one) => one.name).join(", ")}.`
          : key === workflow.initial
            ? "Pieces begin here."
            : "No step leads here yet."}
      </p>
      <Group title="The stop">
        <NameSetting label="Name" value={state.name} locked={locked} onChange={(name) => put({ name }, "name")} />
        <ChoiceSetting
          label="Kind"
          value={state.kind}
          options={KINDS}
          locked={locked}
          onChange={(kind) => change((before) => asKind(before, key, kind, reviewerOf(people)))}
        />
        <TextSetting
          label="What happens here"
          value={state.description ?? ""}
          locked={locked}
          onChange={(text) => put({ description: text || undefined }, "description")}
        />
        <Place state={state} workflow={workflow} locked={locked} change={change} />
        <YesSetting
          label="Switched off, pieces pass it by"
          value={state.bypass !== undefined}
          locked={locked || leaving.length === 0}
          onChange={(off) => change((before) => switchState(before, key, off))}
        />
        {state.bypass && (
          <ChoiceSetting
            label="Passing by"
            value={state.bypass}
            options={leaving.map((step) => [step.key, sayStep(step, workflow.states)] as const)}
            locked={locked}
            onChange={(bypass) => put({ bypass })}
          />
        )}
      </Group>
      {state.review && <ReviewSettings state={state} review={state.review} {...{ workflow, ...shared }} put={put} />}
      <Group title="On arrival">
        <TakeSetting
          label="Time allowed"
          value={state.take}
          locked={locked}
          onChange={(take) => put({ take }, "take")}
        />
        <TakeSetting
          label="Or due before the publish date by"
          value={state.dueBefore}
          locked={locked}
          onChange={(dueBefore) => put({ dueBefore }, "dueBefore")}
        />
        <Principals
          label="Assign to"
          value={state.arrival.assign}
          generic={["author"]}
          leastBusy
          {...shared}
          onChange={(assign) => arrive({ assign })}
        />
        <Principals
          label="Tell"
          value={state.arrival.notify}
          generic={["author", "assignee"]}
          {...shared}
          onChange={(notify) => arrive({ notify })}
        />
        <TextSetting
          label="Checklist, a point a line"
          value={state.arrival.checklist.join("\n")}
          locked={locked}
          onChange={(text) => arrive({ checklist: pointsOf(text) }, "checklist")}
        />
      </Group>
      <Group title="Text">
        <Principals label="May change it" value={state.editors} {...shared} onChange={(editors) => put({ editors })} />
        <Principals label="May read it" value={state.viewers} {...shared} onChange={(viewers) => put({ viewers })} />
      </Group>
      <Group title="Steps from here">
        {leaving.map((step) => (
          <Button
            look="bare"
            key={step.key}
            type="button"
            className="flex w-full justify-between gap-3 py-1.5 text-left text-13 hover:text-blue"
            onClick={() => select({ transition: step.key })}
          >
            <span className="font-semibold">{step.name}</span>
            <span className="text-rail">to {workflow.states.find((one) => one.key === step.to)?.name}</span>
          </Button>
        ))}
        {leaving.length === 0 && <p className="py-1.5 text-13 text-rail">None.</p>}
        {!locked && <AddStep from={state} workflow={workflow} change={change} select={select} />}
      </Group>
      {!locked && workflow.states.length > 1 && (
        <Button
          type="button"
          look="quiet"
          className="mt-4"
          onClick={() => {
            change((before) => removeState(before, key));
            select(null);
          }}
        >
          Take this stop out
        </Button>
      )}
    </>
  );
}

const pointsOf = (text: string) =>
  text
    .split("\n")
    .map((line) => line.slice(0, 200))
    .filter((line, i, all) => line !== "" || i === all.length - 1)
    .slice(0, 50)
    .filter((line) => line !== "");

/** Where a stop lies on the line, moved by keyboard and mouse alike. */
function Place({
  state,
  workflow,
  locked,
  change,
}: { state: State } & Pick<PanelProps, "workflow" | "locked" | "change">) {
  const { mainLine } = workflow;
  const at = mainLine.indexOf(state.key);
  const move = (before: string | null | "siding") => change((now) => moveState(now, state.key, before));
  return (
    <div className="flex min-h-8 items-center justify-between gap-2 py-1 text-13">
      <span className="text-rail">{at < 0 ? "Beside the line" : `Stop ${at + 1} of ${mainLine.length}`}</span>
      {!locked && (
        <span className="flex gap-1">
          {at > 0 && <Small onClick={() => move(mainLine[at - 1] as string)}>Earlier</Small>}
          {at >= 0 && at < mainLine.length - 1 && <Small onClick={() => move(mainLine[at + 2] ?? null)}>Later</Small>}
          {at < 0 ? (
            <Small onClick={() => move(mainLine.at(-1) as string)}>Onto the line</Small>
          ) : (
            mainLine.length > 1 && <Small onClick={() => move("siding")}>Off the line</Small>
          )}
        </span>
      )}
    </div>
  );
}

function Small({ onClick, children }: { onClick(): void; children: string }) {
  return (
    <Button
      look="bare"
      type="button"
      className="rounded border border-track px-1.5 py-0.5 text-12 hover:border-ink"
      onClick={onClick}
    >
      {children}
    </Button>
  );
}

function AddStep({ from, workflow, change, select }: { from: State } & Omit<PanelProps, "people" | "locked">) {
  return (
    <div className="py-1.5">
      <Select
        aria-label={`Add a step from ${from.name}`}
        value=""
        className="w-full"
        onChoose={(value) => {
          const to = workflow.states.find((one) => one.key === value);
          if (!to) return;
          const made = addTransition(workflow, nameTo(to), from.key, to.key);
          change(() => made.workflow);
          select({ transition: made.key });
        }}
      >
        <Option value="">Add a step to …</Option>
        {workflow.states
          .filter((one) => one.key !== from.key)
          .map((one) => (
            <Option key={one.key} value={one.key}>
              {one.name}
            </Option>
          ))}
      </Select>
    </div>
  );
}

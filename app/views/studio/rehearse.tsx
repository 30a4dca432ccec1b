import { useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { Message } from "#app/ui/message.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { StopMark } from "#app/views/line/stop-mark.tsx";
import { When } from "#app/views/time/clock.tsx";
import { cut, inWords } from "#app/views/workflow/line.tsx";
import { Track } from "#app/views/workflow/track.tsx";
import type { Refusal } from "#core/refusal.ts";
import {
  authors,
  begin,
  later,
  personName,
  type Rehearsal,
  type Stage,
  sayWho,
  tick,
} from "#core/rehearsal/rehearse.ts";
import { list } from "#core/words/say.ts";
import { type Finding, isWalkable } from "#core/workflow/checking/check.ts";
import { stateOf } from "#core/workflow/document.ts";
import { fitting, layOut } from "#core/workflow/drawing/layout.ts";
import { Actions, Where } from "./acting.tsx";

/** Walks an imaginary piece along the line as different people. Nothing of it is written anywhere. */
export function Rehearse({ stage, now, findings }: { stage: Stage; now: number; findings: Finding[] | null }) {
  const possible = authors(stage);
  const [steps, setSteps] = useState<Rehearsal[]>([]);
  const [author, setAuthor] = useState(possible[0] ?? "");
  const [actor, setActor] = useState("");
  const [refusal, setRefusal] = useState<Refusal | null>(null);
  if (!findings || !isWalkable(findings))
    return (
      <p className="px-4 py-5 md:px-6">
        {findings ? "It names something that is not there, or goes round in itself. Mend that first." : "Checking …"}
      </p>
    );
  if (possible.length === 0)
    return (
      <p className="px-4 py-5 md:px-6">Nobody who works here may begin a piece, so there is nobody to rehearse with.</p>
    );
  const present = steps.at(-1) ?? begin(stage, author, now);
  const passed = steps.length > 0 ? steps : [present];
  const acting = actor || author;
  const go = (next: { ok: true; value: Rehearsal } | { ok: false; refusal: Refusal }) => {
    setRefusal(next.ok ? null : next.refusal);
    if (next.ok) setSteps([...passed, next.value]);
    return next.ok;
  };
  const restart = (by: string) => {
    setAuthor(by);
    setActor("");
    setSteps([]);
    setRefusal(null);
  };
  return (
    <div className="grid flex-1 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_356px]">
      <div className="min-w-0 px-4 py-4 md:px-6">
        <div className="flex flex-wrap items-center gap-3 text-13">
          <label className="flex items-center gap-2">
            An imaginary piece by
            <Select value={author} className="font-semibold" onChoose={restart}>
              {possible.map((key) => (
                <Option key={key} value={key}>
                  {personName(stage, key)}
                </Option>
              ))}
            </Select>
          </label>
          <Button type="button" onClick={() => restart(author)}>
            Begin again
          </Button>
          <span className="text-rail">Its fields are complete and its comments settled. Nothing of this is kept.</span>
        </div>
        <Way stage={stage} rehearsal={present} />
        <Passage
          stage={stage}
          steps={passed}
          onBranch={(at) => {
            setSteps(passed.slice(0, at + 1));
            setRefusal(null);
          }}
        />
      </div>
      <aside aria-label="Acting" className="border-rule bg-paper px-4 py-4 lg:border-l">
        <Where
          stage={stage}
          rehearsal={present}
          onLater={(at) => setSteps([...passed.slice(0, -1), ...later(stage, present, at)])}
        />
        <label className="mt-4 block text-13 font-semibold">
          Act as
          <Select
            value={acting}
            className="mt-1 w-full font-normal"
            onChoose={(value) => {
              setActor(value);
              setRefusal(null);
            }}
          >
            {stage.people.people
              .filter((one) => one.active)
              .map((one) => (
                <Option key={one.key} value={one.key}>
                  {one.name}
                  {one.key === present.author ? ", the author" : ""}
                </Option>
              ))}
          </Select>
        </label>
        {refusal && (
          <div className="mt-3">
            <Message more={sayWho(stage, refusal).length > 0 ? [`Open to: ${list(sayWho(stage, refusal))}.`] : []}>
              {refusal.sentence}
            </Message>
          </div>
        )}
        <Actions
          key={`${acting} ${passed.length}`}
          stage={stage}
          rehearsal={present}
          person={acting}
          go={go}
          onTick={() => setSteps([...passed.slice(0, -1), tick(present)])}
        />
      </aside>
    </div>
  );
}

/** The line with the imaginary piece on it. */
function Way({ stage: { workflow }, rehearsal }: { stage: Stage; rehearsal: Rehearsal }) {
  const scale = fitting(workflow, { width: 720, height: Number.POSITIVE_INFINITY });
  const layout = layOut(workflow, 720 / scale);
  const been = new Set(rehearsal.passage.map((one) => one.state));
  return (
    <section
      aria-label={`${inWords(workflow)} Now in ${stateOf(workflow, rehearsal.state).name}.`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a drawing wider than its place must scroll by keyboard too
      tabIndex={0}
      className="mt-2 overflow-x-auto"
    >
      <svg
        width={layout.width * scale}
        height={layout.height * scale}
        viewBox={`0 0 ${layout.width} ${layout.height}`}
        aria-hidden="true"
        className="narrow max-w-none"
      >
        <Track layout={layout} lit={{ states: new Set(), steps: new Set() }} />
        {layout.stops.map(({ state, x, y, order }) => {
          const here = state.key === rehearsal.state;
          return (
            <g key={state.key} transform={`translate(${x} ${y})`}>
              {here && <circle r={19} fill="var(--yellow)" />}
              <StopMark
                state={state}
                colour={here ? "var(--blue)" : been.has(state.key) ? "var(--ink)" : "var(--rail)"}
              />
              <text
                x={order === null ? 18 : 0}
                y={order === null ? 4 : 34}
                textAnchor={order === null ? "start" : "middle"}
                fontSize={13}
                fontWeight={640}
                fill={here ? "var(--blue)" : "var(--ink)"}
              >
                {cut(state.name, 20)}
              </text>
            </g>
          );
        })}
      </svg>
    </section>
  );
}

/** What happened so far; from every step one can go on differently. */
function Passage({
  stage,
  steps,
  onBranch,
}: {
  stage: Stage;
  steps: readonly Rehearsal[];
  onBranch(at: number): void;
}) {
  return (
    <ol aria-label="Passage" className="mt-2 border-t border-ink">
      {steps.map((step, i) => {
        const happened = step.passage.at(-1);
        if (!happened) return null;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a step is known by its place in the passage
          <li key={i} className="flex items-baseline justify-between gap-3 border-b border-rule py-1.5 text-13">
            <span>
              <span className="font-semibold">{happened.who ? personName(stage, happened.who) : "By the clock"}</span>:{" "}
              {happened.step} → {stateOf(stage.workflow, happened.state).name}
              {happened.passedBy.length > 0 &&
                `, past ${list(happened.passedBy.map((key) => stateOf(stage.workflow, key).name))}`}
              {happened.note && <span className="text-rail"> “{happened.note}”</span>}
              {happened.told.length > 0 && (
                <span className="block text-12 text-rail">
                  Told: {list(happened.told.map((key) => personName(stage, key)))}
                </span>
              )}
            </span>
            <span className="flex shrink-0 items-center gap-3 text-rail">
              <When at={happened.at} />
              {i < steps.length - 1 && (
                <Button type="button" look="quiet" className="h-6! px-2! text-12!" onClick={() => onBranch(i)}>
                  Go on from here
                </Button>
              )}
            </span>
          </li>
        );
      })}
    </ol>
  );
}

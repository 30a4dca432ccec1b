import { StopMark } from "#app/views/line/stop-mark.tsx";
import type { State, Transition, Workflow } from "#core/workflow/document.ts";
import { arcHeight, type Branch, fitting, layOut } from "#core/workflow/drawing/layout.ts";
import type { Here } from "#server/workflows/queries.ts";
import { Track, UNLIT } from "./track.tsx";

const NONE: ReadonlySet<string> = new Set();

/**
 * A workflow drawn as a line from its document, to be looked at: the main line straight, returns as
 * arcs above it, what lies beside it on sidings below. Positions are computed, never placed.
 *
 * @param here how many pieces are at each stop
 * @param width what there is across, in pixels
 * @param differing keys of stops to be marked
 */
export function WorkflowLine({
  workflow,
  here,
  width = 750,
  differing = NONE,
}: {
  workflow: Workflow;
  here: Record<string, Here>;
  width?: number;
  differing?: ReadonlySet<string>;
}) {
  const scale = fitting(workflow, { width, height: Number.POSITIVE_INFINITY });
  const layout = layOut(workflow, width / scale);
  return (
    <svg
      width={layout.width * scale}
      height={layout.height * scale}
      viewBox={`0 0 ${layout.width} ${layout.height}`}
      role="img"
      aria-label={inWords(workflow)}
      className="narrow max-w-none"
    >
      <Track layout={layout} lit={UNLIT} />
      {layout.branches.map((branch) => {
        const { x, y, words } = branchLabel(branch);
        return (
          <Words key={`${branch.step.key} ${branch.from.state.key}`} x={x} y={y + 4} size={12}>
            {cut(words, 24)}
          </Words>
        );
      })}
      {layout.rails.map(
        ({ from, to, turnsAt, steps }) =>
          turnsAt === null && (
            <Words key={from.state.key} x={(from.x + to.x) / 2} y={from.y - 12} size={11}>
              {steps[0] ? cut(steps[0].name, 17) : ""}
            </Words>
          ),
      )}
      {layout.stops.map(({ state, x, y, order }) => (
        <g key={state.key} transform={`translate(${x} ${y})`}>
          {differing.has(state.key) && <circle r={19} fill="var(--yellow)" />}
          <StopMark state={state} />
          <text
            x={order === null ? 18 : 0}
            y={order === null ? 4 : 32}
            textAnchor={order === null ? "start" : "middle"}
            fontSize={13}
            fontWeight={640}
            fill="var(--ink)"
          >
            {cut(state.name, 20)}
            <title>{state.name}</title>
          </text>
          <text
            x={order === null ? 18 : 0}
            y={order === null ? 20 : 49}
            textAnchor={order === null ? "start" : "middle"}
            fontSize={12}
            fill="var(--rail)"
          >
            {stopNote(state, here[state.key])}
          </text>
        </g>
      ))}
    </svg>
  );
}

function Words({ x, y, size, children }: { x: number; y: number; size: number; children: string }) {
  return (
    <text
      x={x}
      y={y}
      textAnchor="middle"
      fontSize={size}
      fill="var(--rail)"
      stroke="var(--enamel)"
      strokeWidth={5}
      paintOrder="stroke"
    >
      {children}
    </text>
  );
}

/** Where the name of a step off the line stands. */
export function branchLabel({ from, to, level, step, stub }: Branch): { x: number; y: number; words: string } {
  const y = from.y - arcHeight(level);
  return stub
    ? { x: from.x, y, words: `${step.name} → ${to.state.name}` }
    : { x: (from.x + to.x) / 2, y, words: step.name };
}

/** What stands below a stop's name: the time allowed, and what is there now. */
export function stopNote(state: State, here: Here | undefined): string {
  const late = here?.late ? `, ${here.late} late` : "";
  const count = here?.count ? `${here.count} here${late}` : "";
  const take = state.bypass ? "switched off" : state.take ? state.take.replace(/(?<=\d)(?=\D)/, " ") : "";
  return [take, count].filter(Boolean).join(" · ");
}

/** The line for who does not see it. */
export function inWords(workflow: Workflow): string {
  const name = (key: string) => workflow.states.find((state) => state.key === key)?.name ?? key;
  const off = (key: string) => (workflow.states.find((state) => state.key === key)?.bypass ? ", switched off" : "");
  const line = workflow.mainLine.map((key) => `${name(key)}${off(key)}`).join(", then ");
  const beside = workflow.states.filter((state) => !workflow.mainLine.includes(state.key)).map((state) => state.name);
  return `${workflow.name}: ${line}.${beside.length > 0 ? ` Beside the line: ${beside.join(", ")}.` : ""}`;
}

/** Shortens a name for a drawing; the whole one stands beside it as its title. */
export const cut = (name: string, length: number) => (name.length > length ? `${name.slice(0, length - 1)}…` : name);

/** A step in a sentence: its name and where it leads. */
export const sayStep = (step: Transition, states: readonly State[]) =>
  `${step.name}, to ${states.find((state) => state.key === step.to)?.name ?? step.to}`;

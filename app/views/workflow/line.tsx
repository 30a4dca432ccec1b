import { type State, stateOf, type Transition, type Workflow } from "#core/workflow/document.ts";
import { restingPlace } from "#core/workflow/moves.ts";

const STEP = 132;
const LEFT = 66;
const ARC = 34;
const SIDING = 44;

interface Drawn {
  state: State;
  x: number;
  y: number;
}

interface Arc {
  transition: Transition;
  from: number;
  to: number;
  level: number;
}

/**
 * A workflow drawn as a line from its document: the main line straight, returns as arcs above it,
 * what lies beside it on sidings below. Positions are computed, never placed.
 *
 * @param here how many pieces are in each state
 */
export function WorkflowLine({ workflow, here }: { workflow: Workflow; here: Record<string, number> }) {
  const arcs = layArcs(workflow);
  const levels = Math.max(0, ...arcs.map((arc) => arc.level));
  const rail = 24 + levels * ARC;
  const main = workflow.mainLine.map(
    (key, i): Drawn => ({ state: stateOf(workflow, key), x: LEFT + i * STEP, y: rail }),
  );
  const beside = workflow.states.filter((state) => !workflow.mainLine.includes(state.key));
  const sidings = beside.map((state, i): Drawn => ({ state, x: LEFT + STEP, y: rail + 74 + i * SIDING }));
  const width = LEFT * 2 + (main.length - 1) * STEP;
  const height = rail + 56 + (sidings.length ? 18 + sidings.length * SIDING : 0);
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={inWords(workflow)}
      className="max-w-none"
    >
      {main.slice(1).map((stop, i) => (
        <line
          key={stop.state.key}
          x1={(main[i] as Drawn).x}
          x2={stop.x}
          y1={rail}
          y2={rail}
          stroke="var(--ink)"
          strokeWidth={4}
        />
      ))}
      {arcs.map((arc) => (
        <Return key={`${arc.transition.key}-${arc.from}`} arc={arc} rail={rail} />
      ))}
      {sidings.map((stop) => (
        <Siding key={stop.state.key} stop={stop} workflow={workflow} rail={rail} here={here[stop.state.key] ?? 0} />
      ))}
      {main.map((stop) => (
        <g key={stop.state.key}>
          <StopMark stop={stop} />
          <text
            x={stop.x}
            y={rail + 32}
            textAnchor="middle"
            fontSize={13}
            fontWeight={640}
            fill="var(--ink)"
            className="narrow"
          >
            {cut(stop.state.name, 20)}
            <title>{stop.state.name}</title>
          </text>
          <text x={stop.x} y={rail + 49} textAnchor="middle" fontSize={12} fill="var(--rail)" className="narrow">
            {[stop.state.take && sayTake(stop.state.take), here[stop.state.key] && `${here[stop.state.key]} here`]
              .filter(Boolean)
              .join(" · ")}
          </text>
        </g>
      ))}
      {main.slice(1).map((stop, i) => {
        const step = workflow.transitions.find(
          (one) => one.from.includes((main[i] as Drawn).state.key) && one.to === stop.state.key,
        );
        return (
          step && (
            <text
              key={step.key}
              x={(stop.x + (main[i] as Drawn).x) / 2}
              y={rail - 12}
              textAnchor="middle"
              fontSize={11}
              fill="var(--rail)"
              className="narrow"
            >
              {cut(step.name, 17)}
              <title>{step.name}</title>
            </text>
          )
        );
      })}
    </svg>
  );
}

function StopMark({ stop: { state, x, y } }: { stop: Drawn }) {
  const ink = "var(--ink)";
  const ground = "var(--enamel)";
  if (state.bypass) {
    return (
      <>
        <line x1={x - 12} x2={x + 12} y1={y} y2={y} stroke={ground} strokeWidth={8} />
        <line x1={x - 5} x2={x + 5} y1={y} y2={y} stroke={ink} strokeWidth={4} />
      </>
    );
  }
  switch (state.kind) {
    case "review":
      return (
        <>
          <circle cx={x} cy={y} r={12} fill={ground} stroke={ink} strokeWidth={2.5} />
          <circle cx={x} cy={y} r={7} fill={ground} stroke={ink} strokeWidth={2} />
        </>
      );
    case "ready":
      return <circle cx={x} cy={y} r={10} fill={ink} />;
    case "live":
      return <rect x={x - 10} y={y - 10} width={20} height={20} fill={ink} />;
    case "closed":
      return <rect x={x - 2.5} y={y - 11} width={5} height={22} fill={ink} />;
    case "parked":
      return <circle cx={x} cy={y} r={8} fill={ground} stroke={ink} strokeWidth={2.5} />;
    default:
      return <circle cx={x} cy={y} r={11} fill={ground} stroke={ink} strokeWidth={3.5} />;
  }
}

/** A way back: up from the stop it leaves, along its level, down to the one it leads to. */
function Return({ arc, rail }: { arc: Arc; rail: number }) {
  const from = LEFT + arc.from * STEP - 5;
  const to = LEFT + arc.to * STEP + 5;
  const top = rail - arc.level * ARC;
  return (
    <g fill="none" stroke="var(--track)" strokeWidth={2}>
      <path d={`M${from} ${rail - 14} V${top + 8} q0 -8 -8 -8 H${to + 8} q-8 0 -8 8 V${rail - 16}`} />
      <path d={`M${to - 5} ${rail - 22} l5 7 l5 -7`} stroke="var(--rail)" />
      <text
        x={(from + to) / 2}
        y={top + 4}
        textAnchor="middle"
        fontSize={12}
        fill="var(--rail)"
        stroke="var(--enamel)"
        strokeWidth={6}
        paintOrder="stroke"
        className="narrow"
      >
        {cut(arc.transition.name, 24)}
        <title>{arc.transition.name}</title>
      </text>
    </g>
  );
}

function Siding({ stop, workflow, rail, here }: { stop: Drawn; workflow: Workflow; rail: number; here: number }) {
  const [into] = workflow.transitions.filter((step) => step.to === stop.state.key);
  const sources = workflow.transitions.filter((step) => step.to === stop.state.key).flatMap((step) => step.from);
  const origin = sources.map((key) => workflow.mainLine.indexOf(key)).find((place) => place >= 0) ?? 0;
  const x = LEFT + origin * STEP + STEP / 2 - 26;
  const end = LEFT + origin * STEP + STEP + 30;
  return (
    <>
      <path
        d={`M${x} ${rail} q20 0 20 20 V${stop.y - 10} q0 10 10 10 H${end - 10}`}
        fill="none"
        stroke="var(--track)"
        strokeWidth={2}
      />
      <text
        x={x + 28}
        y={stop.y - 6}
        fontSize={12}
        fill="var(--rail)"
        className="narrow"
        stroke="var(--enamel)"
        strokeWidth={5}
        paintOrder="stroke"
      >
        {into && cut(into.name, 15)}
      </text>
      <StopMark stop={{ ...stop, x: end }} />
      <text
        x={end + 18}
        y={stop.y + 4}
        fontSize={13}
        fontWeight={640}
        fill="var(--ink)"
        className="narrow"
        stroke="var(--enamel)"
        strokeWidth={5}
        paintOrder="stroke"
      >
        {stop.state.name}
        <tspan fontWeight={400} fill="var(--rail)">
          {here ? `  ${here} here` : ""}
        </tspan>
      </text>
    </>
  );
}

/** Ways back along the main line, each on the lowest level on which it meets no other. */
function layArcs(workflow: Workflow): Arc[] {
  const place = (key: string) => workflow.mainLine.indexOf(key);
  const backs = workflow.transitions
    .flatMap((transition) =>
      transition.from.map((from) => ({ transition, from: place(from), to: place(transition.to), level: 0 })),
    )
    .filter((arc) => arc.to >= 0 && arc.from > arc.to)
    .sort((a, b) => a.from - a.to - (b.from - b.to));
  for (const [i, arc] of backs.entries()) {
    const met = backs.slice(0, i).filter((other) => other.to < arc.from && arc.to < other.from);
    arc.level = 1;
    while (met.some((other) => other.level === arc.level)) arc.level += 1;
  }
  return backs;
}

function inWords(workflow: Workflow): string {
  const way = workflow.mainLine
    .map((key) => stateOf(workflow, key))
    .map((state) => (restingPlace(workflow, state.key).state === state ? state.name : `${state.name} (switched off)`));
  return `${workflow.name}: ${way.join(", then ")}.`;
}

const UNITS: Record<string, string> = { wd: "working days", wh: "working hours", d: "days", h: "hours" };

/** A length of work in words: `3 working days`. */
function sayTake(take: string): string {
  const amount = Number.parseFloat(take);
  const unit = UNITS[take.replace(/[\d.]/g, "")] as string;
  return `${amount} ${amount === 1 ? unit.slice(0, -1) : unit}`;
}

const cut = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text);

import { arcHeight, type Branch, type Layout, PITCH, type Rail, type Siding } from "#core/workflow/drawing/layout.ts";

const INK = "var(--ink)";
const TRACK = "var(--track)";

/** What is lit in a drawing: stops by key, steps by key. */
export interface Lit {
  states: ReadonlySet<string>;
  steps: ReadonlySet<string>;
}

export const UNLIT: Lit = { states: new Set(), steps: new Set() };

/** The rails, arcs and sidings of a line, without stops and words. */
export function Track({ layout, lit }: { layout: Layout; lit: Lit }) {
  return (
    <g fill="none">
      {layout.sidings.map((one) => (
        <SidingTrack key={one.stop.state.key} siding={one} lit={lit} />
      ))}
      {layout.branches.map((one) => (
        <BranchTrack key={`${one.step.key} ${one.from.state.key}`} branch={one} lit={lit} />
      ))}
      {layout.rails.map((one) => (
        <RailTrack key={`${one.from.state.key} ${one.to.state.key}`} rail={one} layout={layout} lit={lit} />
      ))}
    </g>
  );
}

function RailTrack({ rail: { from, to, turnsAt, steps }, layout, lit }: { rail: Rail; layout: Layout; lit: Lit }) {
  const bright = steps.some((step) => lit.steps.has(step.key));
  const stroke = bright ? "var(--blue)" : steps.length > 0 ? INK : TRACK;
  const dashes = steps.length > 0 ? undefined : "3 7";
  if (turnsAt === null)
    return (
      <line x1={from.x} x2={to.x} y1={from.y} y2={to.y} stroke={stroke} strokeWidth={4} strokeDasharray={dashes} />
    );
  const right = layout.width - 12;
  const left = to.x - 44;
  return (
    <path
      d={`M${from.x} ${from.y} H${right - 8} q8 0 8 8 V${turnsAt - 8} q0 8 -8 8 H${left + 8} q-8 0 -8 8 V${to.y - 8} q0 8 8 8 H${to.x}`}
      stroke={stroke}
      strokeWidth={2}
      strokeDasharray={dashes ?? "1 5"}
      strokeLinecap="round"
    />
  );
}

/** A way off the line: up from the stop it leaves, along its level, down to where it leads; or a stub to another row. */
function BranchTrack({ branch: { step, from, to, level, stub }, lit }: { branch: Branch; lit: Lit }) {
  const stroke = lit.steps.has(step.key) ? "var(--blue)" : TRACK;
  if (stub) {
    const end = from.y - arcHeight(level) + 11;
    return (
      <g stroke={stroke} strokeWidth={2}>
        <path d={`M${from.x} ${from.y - 16} V${end} m-4 5 l4 -5 l4 5`} />
      </g>
    );
  }
  const back = to.x < from.x ? 1 : -1;
  const x1 = from.x - 5 * back;
  const x2 = to.x + 5 * back;
  const top = from.y - arcHeight(level);
  return (
    <g stroke={stroke} strokeWidth={2}>
      <path
        d={`M${x1} ${from.y - 14} V${top + 8} q0 -8 ${-8 * back} -8 H${x2 + 8 * back} q${-8 * back} 0 ${-8 * back} 8 V${to.y - 16}`}
      />
      <path d={`M${x2 - 5} ${to.y - 22} l5 7 l5 -7`} />
    </g>
  );
}

function SidingTrack({ siding: { stop, from, step }, lit }: { siding: Siding; lit: Lit }) {
  const stroke = step && lit.steps.has(step.key) ? "var(--blue)" : TRACK;
  const x = from.x + PITCH / 2;
  return (
    <path
      d={`M${x - 24} ${from.y} q24 0 24 24 V${stop.y - 10} q0 10 10 10 H${stop.x - 8}`}
      stroke={stroke}
      strokeWidth={2}
      strokeDasharray={step ? undefined : "3 7"}
    />
  );
}

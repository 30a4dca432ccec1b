import type { State } from "#core/workflow/document.ts";

/**
 * The mark of a stop in a drawing of a line, about the origin: as `Mark` draws it small, with a
 * tick for each seat around a review. A switched-off stop is a dash the line runs through.
 */
export function StopMark({ state, colour = "var(--ink)" }: { state: State; colour?: string }) {
  const ground = "var(--enamel)";
  if (state.bypass) {
    return (
      <>
        <rect x={-13} y={-4} width={26} height={8} fill={ground} />
        <rect x={-6} y={-2} width={12} height={4} fill={colour} />
      </>
    );
  }
  switch (state.kind) {
    case "review":
      return (
        <>
          <circle r={12} fill={ground} stroke={colour} strokeWidth={2.5} />
          <circle r={7} fill={ground} stroke={colour} strokeWidth={2} />
          <Seats state={state} colour={colour} />
        </>
      );
    case "ready":
      return <circle r={10} fill={colour} />;
    case "live":
      return <rect x={-10} y={-10} width={20} height={20} fill={colour} />;
    case "closed":
      return (
        <>
          <rect x={-7} y={-6} width={14} height={12} fill={ground} />
          <rect x={-2.5} y={-11} width={5} height={22} fill={colour} />
        </>
      );
    case "parked":
      return <circle r={8} fill={ground} stroke={colour} strokeWidth={2.5} />;
    default:
      return <circle r={11} fill={ground} stroke={colour} strokeWidth={3.5} />;
  }
}

/** One tick a seat, as far as the workflow says how many there are. */
function Seats({ state, colour }: { state: State; colour: string }) {
  const seats = (state.review?.seats ?? []).reduce((sum, one) => sum + ("role" in one ? (one.number ?? 1) : 1), 0);
  return Array.from({ length: Math.min(8, seats) }, (_, i) => {
    const angle = -Math.PI / 2 + (i - (Math.min(8, seats) - 1) / 2) * 0.5;
    return (
      <line
        // biome-ignore lint/suspicious/noArrayIndexKey: seats are drawn by their place
        key={i}
        x1={14 * Math.cos(angle)}
        y1={14 * Math.sin(angle)}
        x2={18 * Math.cos(angle)}
        y2={18 * Math.sin(angle)}
        stroke={colour}
        strokeWidth={2}
      />
    );
  });
}

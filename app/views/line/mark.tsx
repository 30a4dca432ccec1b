import type { StateKind } from "#core/workflow/document.ts";

/** How a stop stands to the piece that travels. */
export type When = "past" | "now" | "ahead" | "off";

interface Props {
  kind: StateKind;
  when: When;
  late?: boolean;
  /** For a review that is open: one tick a seat, filled where it has decided. */
  seats?: readonly { decided: boolean }[];
}

const SIZE = 24;
const MIDDLE = SIZE / 2;

/**
 * The mark of a state, by its kind: open ring for writing, double ring for review, filled disc for
 * ready, square for live, small ring for parked, a bar across the line for closed. Drawn in ink; the
 * present one is larger and blue, or red when it is late.
 */
export function Mark({ kind, when, late = false, seats = [] }: Props) {
  const colour = when === "now" ? (late ? "var(--red)" : "var(--blue)") : when === "past" ? "var(--ink)" : "#8a9099";
  const radius = when === "now" ? 8 : 5.5;
  return (
    <svg
      width={SIZE}
      height={SIZE}
      viewBox={`0 0 ${SIZE} ${SIZE}`}
      aria-hidden="true"
      focusable="false"
      overflow="visible"
    >
      {when === "off" ? (
        <Gap />
      ) : (
        <Shape kind={kind} filled={when === "past"} present={when === "now"} radius={radius} colour={colour} />
      )}
      {seats.map((seat, i) => {
        const angle = -Math.PI / 2 + (i - (seats.length - 1) / 2) * 0.75;
        const reach = radius + 5.5;
        return (
          <circle
            // biome-ignore lint/suspicious/noArrayIndexKey: seats are drawn by their place
            key={i}
            cx={MIDDLE + reach * Math.cos(angle)}
            cy={MIDDLE + reach * Math.sin(angle)}
            r={2.4}
            fill={seat.decided ? colour : "var(--enamel)"}
            stroke={colour}
            strokeWidth={1.2}
          />
        );
      })}
    </svg>
  );
}

function Gap() {
  return (
    <>
      <line x1={5} x2={19} y1={MIDDLE} y2={MIDDLE} stroke="var(--enamel)" strokeWidth={6} />
      <line x1={9} x2={15} y1={MIDDLE} y2={MIDDLE} stroke="var(--track)" strokeWidth={2} />
    </>
  );
}

function Shape({
  kind,
  filled,
  present,
  radius,
  colour,
}: {
  kind: StateKind;
  filled: boolean;
  present: boolean;
  radius: number;
  colour: string;
}) {
  const ground = "var(--enamel)";
  const circle = (r: number, fill: string, width: number) => (
    <circle cx={MIDDLE} cy={MIDDLE} r={r} fill={fill} stroke={colour} strokeWidth={width} />
  );
  switch (kind) {
    case "live":
      return (
        <rect
          x={MIDDLE - radius}
          y={MIDDLE - radius}
          width={2 * radius}
          height={2 * radius}
          fill={filled || present ? colour : ground}
          stroke={colour}
          strokeWidth={2}
        />
      );
    case "ready":
      return filled || present ? (
        circle(radius, colour, 2)
      ) : (
        <>
          {circle(radius, ground, 2)}
          <circle cx={MIDDLE} cy={MIDDLE} r={2} fill={colour} />
        </>
      );
    case "review":
      return (
        <>
          {circle(radius + 1.5, ground, present ? 2.5 : 1.6)}
          {circle(radius - 2, filled ? colour : ground, 1.6)}
        </>
      );
    case "closed":
      return (
        <>
          {circle(radius + 1, ground, 0)}
          <line
            x1={MIDDLE}
            x2={MIDDLE}
            y1={MIDDLE - radius - 1}
            y2={MIDDLE + radius + 1}
            stroke={colour}
            strokeWidth={present ? 5 : 4}
          />
        </>
      );
    case "parked":
      return circle(radius - 1, ground, present ? 3 : 2);
    default:
      return circle(radius, filled ? colour : ground, present ? 3 : 2);
  }
}

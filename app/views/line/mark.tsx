import type { StateKind } from "#core/workflow/document.ts";

/** How a stop stands to the piece that travels. */
export type When = "past" | "now" | "ahead" | "off";

interface Props {
  kind: StateKind;
  when: When;
  /** For a review that is open: one tick a seat, filled where it has decided. */
  seats?: readonly { decided: boolean }[];
}

/**
 * The mark of a state, by its kind: open ring for writing, double ring for review, filled disc for
 * ready, square for live, small ring for parked, a bar across the line for closed; the present one is
 * larger. Drawn about the middle, in the colour of the stop: a list draws hundreds of them, so that
 * what all have in common is said in the style sheet.
 */
export function Mark({ kind, when, seats = [] }: Props) {
  const radius = when === "now" ? 8 : 5.5;
  return (
    <svg viewBox="-12 -12 24 24" aria-hidden="true">
      {when === "off" ? <Gap /> : <Shape kind={kind} when={when} radius={radius} />}
      {seats.map((seat, i) => {
        const angle = -Math.PI / 2 + (i - (seats.length - 1) / 2) * 0.75;
        const reach = radius + 5.5;
        return (
          <circle
            // biome-ignore lint/suspicious/noArrayIndexKey: seats are drawn by their place
            key={i}
            cx={reach * Math.cos(angle)}
            cy={reach * Math.sin(angle)}
            r={2.4}
            fill={seat.decided ? "currentColor" : undefined}
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
      <path d="M-7 0H7" stroke="var(--enamel)" strokeWidth={6} />
      <path d="M-3 0H3" stroke="var(--track)" />
    </>
  );
}

function Shape({ kind, when, radius }: { kind: StateKind; when: When; radius: number }) {
  const present = when === "now";
  const filled = when === "past" ? "currentColor" : undefined;
  const solid = present ? "currentColor" : filled;
  switch (kind) {
    case "live":
      return <path d={`M-${radius}-${radius}H${radius}V${radius}H-${radius}Z`} fill={solid} />;
    case "ready":
      return (
        <>
          <circle r={radius} fill={solid} />
          {!solid && <circle r={1} fill="currentColor" />}
        </>
      );
    case "review":
      return (
        <>
          <circle r={radius + 1.5} strokeWidth={present ? 2.5 : 1.6} />
          <circle r={radius - 2} fill={filled} strokeWidth={1.6} />
        </>
      );
    case "closed":
      return (
        <>
          <circle r={radius + 1} stroke="none" />
          <path d={`M0-${radius + 1}V${radius + 1}`} strokeWidth={present ? 5 : 4} />
        </>
      );
    case "parked":
      return <circle r={radius - 1} strokeWidth={present ? 3 : undefined} />;
    default:
      return <circle r={radius} fill={filled} strokeWidth={present ? 3 : undefined} />;
  }
}

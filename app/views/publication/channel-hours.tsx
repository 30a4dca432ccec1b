import { type PointerEvent, useState } from "react";
import { Input } from "#app/ui/field.tsx";
import { type WindowsText, withHours } from "#core/release/window-form.ts";
import { WEEKDAYS } from "#core/time/calendar.ts";
import { minutesOf, readHours } from "#core/time/hours.ts";

export const DAY_NAMES = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
/** What is drawn by pointer ends at such minutes. */
const STEP = 30;
const DAY = 1440;

/** The hours of one day: written, and drawn beside; what began the day before reaches in. */
export function DayHours({
  day,
  name,
  week,
  error,
  onChange,
}: {
  day: (typeof WEEKDAYS)[number];
  name: string;
  week: WindowsText["week"];
  error: string | undefined;
  onChange(hours: string): void;
}) {
  const [drawn, setDrawn] = useState<{ from: number; until: number } | null>(null);
  const before = WEEKDAYS[(WEEKDAYS.indexOf(day) + 6) % 7] ?? day;
  const at = (event: PointerEvent<HTMLElement>) => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    return Math.min(DAY, Math.max(0, Math.round((((event.clientX - left) / width) * DAY) / STEP) * STEP));
  };
  const spans = [
    ...spansOf(week[day], week[before]),
    ...(drawn ? [[Math.min(drawn.from, drawn.until), Math.max(drawn.from, drawn.until)] as const] : []),
  ];
  return (
    <div className="mb-1">
      <div className="grid grid-cols-[84px_minmax(0,1fr)] items-center gap-x-3 sm:grid-cols-[84px_170px_minmax(0,1fr)]">
        <label htmlFor={`hours-${day}`} className="text-13">
          {name}
        </label>
        <Input
          id={`hours-${day}`}
          look="small"
          name={day}
          value={week[day]}
          placeholder="closed"
          aria-invalid={error ? true : undefined}
          aria-describedby={error ? `hours-${day}-error` : undefined}
          onChange={(event) => onChange(event.target.value)}
          className="w-full"
        />
        <div
          aria-hidden="true"
          className="relative h-5 cursor-crosshair touch-none border-x border-track bg-platform max-sm:hidden"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setDrawn({ from: at(event), until: at(event) });
          }}
          onPointerMove={(event) => drawn && setDrawn({ ...drawn, until: at(event) })}
          onPointerUp={() => {
            if (drawn)
              onChange(withHours(week[day], Math.min(drawn.from, drawn.until), Math.max(drawn.from, drawn.until)));
            setDrawn(null);
          }}
        >
          {[6, 12, 18].map((hour) => (
            <span
              key={hour}
              className="absolute inset-y-0 border-l border-track"
              style={{ left: `${(hour / 24) * 100}%` }}
            />
          ))}
          {spans.map(([from, until]) => (
            <span
              key={`${from} ${until}`}
              className="absolute inset-y-0.5 bg-blue"
              style={{ left: `${(from / DAY) * 100}%`, width: `${((until - from) / DAY) * 100}%` }}
            />
          ))}
        </div>
      </div>
      {error && (
        <p id={`hours-${day}-error`} className="text-13 font-semibold text-red sm:pl-24">
          {error}
        </p>
      )}
    </div>
  );
}

/** The open stretches of a day in minutes, with what reaches in from the day before. */
function spansOf(hours: string, before: string): (readonly [number, number])[] {
  const read = (text: string) =>
    (readHours(text) ?? []).map(([from, until]) => [minutesOf(from), minutesOf(until)] as const);
  const today = read(hours).flatMap(([from, until]) => [
    from < until ? ([from, until] as const) : ([from, DAY] as const),
  ]);
  const night = read(before).flatMap(([from, until]) => (from >= until && until > 0 ? [[0, until] as const] : []));
  return [...today, ...night].filter(([from, until]) => from < until && until <= DAY);
}

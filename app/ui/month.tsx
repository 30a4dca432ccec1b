import { DayPicker } from "react-day-picker";
import { useDates } from "./dates.ts";

/** A day of the browser's own calendar, noon, so that no clock change moves it. */
const asDate = (day: string) => new Date(`${day}T12:00`);
const pad = (value: number) => String(value).padStart(2, "0");
const asDay = (date: Date) => `${date.getFullYear()}-${pad(date.getMonth() + 1)}-${pad(date.getDate())}`;

const LABEL = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long", year: "numeric", weekday: "long" });
const CELL = "size-8 p-0 text-center";

/** A month to choose a day from, weeks from Monday, closed days struck through. */
export default function Month({
  chosen,
  onChoose,
  isClosed,
}: {
  chosen: string | null;
  onChoose(day: string): void;
  isClosed(day: string): boolean;
}) {
  const { today } = useDates();
  return (
    <DayPicker
      mode="single"
      autoFocus
      weekStartsOn={1}
      showOutsideDays
      showWeekNumber
      ISOWeek
      today={asDate(today)}
      defaultMonth={asDate(chosen ?? today)}
      {...(chosen && { selected: asDate(chosen) })}
      onDayClick={(date) => onChoose(asDay(date))}
      labels={{ labelDayButton: (date) => LABEL.format(date) }}
      modifiers={{ closed: (date) => isClosed(asDay(date)) }}
      modifiersClassNames={{ closed: "text-rail [&>button]:line-through" }}
      classNames={{
        months: "relative",
        month_caption: "flex h-8 items-center justify-center font-semibold",
        nav: "absolute inset-x-0 top-0 flex h-8 items-center justify-between",
        button_previous: "size-8 hover:bg-platform",
        button_next: "size-8 hover:bg-platform",
        chevron: "mx-auto size-3 fill-current",
        month_grid: "border-collapse",
        weekday: `${CELL} text-12 font-normal text-rail`,
        week_number: `${CELL} border-r border-rule text-12 font-normal text-rail`,
        day: CELL,
        day_button: "size-8 hover:bg-platform",
        today: "font-bold shadow-[inset_0_-3px_var(--yellow)]",
        selected: "bg-yellow text-on-yellow",
        outside: "text-rail",
      }}
    />
  );
}

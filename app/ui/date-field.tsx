import { type ComponentProps, lazy, Suspense, useEffect, useRef, useState } from "react";
import { Button } from "./button.tsx";
import { useTellsChosen } from "./choice-form.tsx";
import { type Dates, useDates } from "./dates.ts";
import { Field, type FieldLook, Input, type Labelled } from "./field.tsx";
import { Popover } from "./layers.tsx";

const Month = lazy(() => import("./month.tsx"));

interface Props {
  look?: FieldLook;
  name?: string;
  /** A day or a moment, ISO 8601 without a zone; empty for none. */
  value?: string;
  defaultValue?: string;
  required?: boolean;
  disabled?: boolean;
  id?: string;
  "aria-label"?: string;
  "aria-describedby"?: string | undefined;
  "aria-invalid"?: true | undefined;
  onChange?(value: string): void;
  /** Which days the month strikes through; those nobody works on where it is left out. */
  isClosed?: ((day: string) => boolean) | undefined;
  /** The time of day that is meant where none is said. */
  usual?: string | null | undefined;
}

interface Kind {
  read(dates: Dates, text: string, usual?: string | null): string | null;
  say(dates: Dates, value: string): string;
  example: string;
  /** What a field says of words that are no date. */
  unread: string;
}

const DAY: Kind = {
  read: (dates, text) => dates.readDay(text),
  say: (dates, day) => dates.sayDay(day),
  example: "26 Nov, tomorrow, in 3 wd",
  unread: "This is no date. Write it as 26 Nov, tomorrow or in 3 wd.",
};
const MOMENT: Kind = {
  read: (dates, text, usual) => dates.readMoment(text, usual),
  say: (dates, moment) => dates.sayMoment(moment),
  example: "26 Nov, 17:30; tomorrow 9",
  unread: "This is no date and time. Write them as 26 Nov, 17:30 or tomorrow 9.",
};

/** The value as it is said; what is no date stays as it was typed. */
const shown = (kind: Kind, dates: Dates, value: string) => {
  const known = kind.read(dates, value);
  return known ? kind.say(dates, known) : value;
};

/**
 * A line that understands dates as people write them, and says them back once it is left; the month
 * beside it shows the days nobody works on. A form is sent the date as ISO 8601, or the words nobody understood.
 */
function DateInput({
  kind,
  value,
  defaultValue = "",
  name,
  look = "box",
  onChange,
  isClosed,
  usual,
  ...rest
}: Props & { kind: Kind }) {
  const dates = useDates();
  const [own, setOwn] = useState(value ?? defaultValue);
  const held = value ?? own;
  const [typed, setTyped] = useState<string | null>(null);
  const [open, setOpen] = useState(false);
  const sent = useRef<HTMLInputElement>(null);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const form = sent.current?.form;
    const anew = () => {
      setOwn(defaultValue);
      setTyped(null);
    };
    form?.addEventListener("reset", anew);
    return () => form?.removeEventListener("reset", anew);
  }, [defaultValue]);
  const take = (next: string) => {
    setOwn(next);
    onChange?.(next);
  };
  // While somebody types nothing is chosen yet.
  const settled = useRef(held);
  if (typed === null) settled.current = held;
  useTellsChosen(settled.current);
  const words = typed ?? (held && shown(kind, dates, held));
  const wrong = held !== "" && kind.read(dates, held) === null;
  return (
    <span className={`relative flex ${look === "small" ? "w-48 max-w-full" : "w-full"}`}>
      {name !== undefined && <input ref={sent} type="hidden" name={name} value={held} disabled={rest.disabled} />}
      <Input
        ref={field}
        look={look}
        autoComplete="off"
        placeholder={kind.example}
        {...rest}
        aria-invalid={rest["aria-invalid"] ?? (wrong && typed === null ? true : undefined)}
        value={words}
        onChange={(event) => {
          setTyped(event.target.value);
          take(kind.read(dates, event.target.value, usual) ?? event.target.value.trim());
        }}
        onBlur={() => setTyped(null)}
        className="w-full! pr-8!"
      />
      <Popover
        label="The month"
        open={open}
        onOpen={setOpen}
        trigger={
          <Button
            type="button"
            look="bare"
            disabled={rest.disabled}
            aria-label="Choose from the month"
            className="absolute inset-y-0 right-0 w-8 text-rail hover:text-blue"
          >
            <svg viewBox="0 0 16 16" aria-hidden="true" className="mx-auto size-4 fill-none stroke-current">
              <path d="M2.5 4.5h11v9h-11zM2.5 7.5h11M5.5 2v3M10.5 2v3" />
            </svg>
          </Button>
        }
      >
        <Suspense fallback={<p role="status">One moment …</p>}>
          <Month
            isClosed={isClosed ?? dates.isClosed}
            chosen={kind.read(dates, held)?.slice(0, 10) ?? null}
            onChoose={(day) => {
              const time = kind === MOMENT && held.includes("T") ? held.slice(10) : "";
              take(kind.read(dates, day + time, usual) ?? day);
              setTyped(null);
              setOpen(false);
              field.current?.focus();
            }}
          />
        </Suspense>
      </Popover>
    </span>
  );
}

function LabelledDate({ kind, label, hint, error, ...rest }: Labelled & Props & { kind: Kind }) {
  const dates = useDates();
  const [held, setHeld] = useState(rest.value ?? rest.defaultValue ?? "");
  const [left, setLeft] = useState(false);
  const now = rest.value ?? held;
  const unread = left && now !== "" && kind.read(dates, now) === null ? kind.unread : undefined;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it hears when its field is left
    <div onBlur={() => setLeft(true)}>
      <Field label={label} hint={hint} error={unread ?? error} name={rest.name}>
        {(tied) => (
          <DateInput
            kind={kind}
            {...tied}
            {...rest}
            onChange={(next) => {
              setHeld(next);
              rest.onChange?.(next);
            }}
          />
        )}
      </Field>
    </div>
  );
}

/** A labelled day, as one writes and says it. */
export const DayField = (props: Labelled & Props) => <LabelledDate kind={DAY} {...props} />;

/** A labelled date with its time. */
export const MomentField = (props: Labelled & Props) => <LabelledDate kind={MOMENT} {...props} />;

/** A day without a label of its own; it needs an `aria-label`. */
export const DayInput = (props: Omit<ComponentProps<typeof DateInput>, "kind">) => <DateInput kind={DAY} {...props} />;

/** A date with its time, without a label of its own. */
export const MomentInput = (props: Omit<ComponentProps<typeof DateInput>, "kind">) => (
  <DateInput kind={MOMENT} {...props} />
);

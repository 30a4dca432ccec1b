import { type ComponentProps, type KeyboardEvent, useId, useRef, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { TextArea } from "#app/ui/field.tsx";
import { Status } from "#app/ui/message.tsx";

/** So many people are offered at once. */
const OFFERED = 4;

/** What is being typed after an `@` that no letter precedes, up to the caret. */
const ASKED = /(?<![\p{L}\p{N}])@([\p{L}\p{N}'’.-]{0,40}(?: [\p{L}\p{N}'’.-]{0,40})?)$/u;

/** Whom a piece's remarks can mention, by name. */
export const namesOf = ({ mentionable }: { mentionable: readonly { name: string }[] }) =>
  mentionable.map(({ name }) => name);

/** An area for what one has to say, which completes the names of those one mentions: only people who may see the piece. */
export function WordsArea({
  names,
  ...rest
}: { names: readonly string[] } & Omit<ComponentProps<typeof TextArea>, "onChange">) {
  const id = useId();
  const place = useRef<HTMLDivElement>(null);
  const [asked, setAsked] = useState<string | null>(null);
  const fitting = asked === null ? [] : names.filter((name) => fits(name, asked)).slice(0, OFFERED);
  const area = () => place.current?.querySelector("textarea") ?? null;
  const look = () => {
    const words = area();
    setAsked(ASKED.exec(words?.value.slice(0, words.selectionStart) ?? "")?.[1] ?? null);
  };
  const take = (name: string) => {
    const words = area();
    if (!words || asked === null) return;
    const { selectionStart } = words;
    words.setRangeText(`${name} `, selectionStart - asked.length, selectionStart, "end");
    words.dispatchEvent(new Event("input", { bubbles: true }));
    words.focus();
    setAsked(null);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLTextAreaElement>) => {
    const [first] = fitting;
    if (first && event.key === "Tab" && !event.shiftKey) {
      event.preventDefault();
      take(first);
    }
    if (fitting.length > 0 && event.key === "Escape") {
      event.preventDefault();
      setAsked(null);
    }
    if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      event.currentTarget.form?.requestSubmit(event.currentTarget.form.querySelector<HTMLElement>("[data-main]"));
    }
  };
  return (
    <div ref={place}>
      <TextArea {...rest} maxLength={4000} onInput={look} onKeyUp={look} onKeyDown={onKeyDown} />
      {fitting.length > 0 && (
        <p id={id} className="flex flex-wrap items-center gap-x-3 text-12">
          {fitting.map((name) => (
            <Button key={name} type="button" look="word" onClick={() => take(name)}>
              @{name}
            </Button>
          ))}
          <span className="text-rail">Tab takes the first</span>
        </p>
      )}
      <Status className="sr-only">{fitting.length > 0 ? `${fitting.join(", ")}. Tab takes the first.` : ""}</Status>
    </div>
  );
}

/** Whether one of somebody's names begins with what is typed. */
function fits(name: string, asked: string): boolean {
  const [whole, wanted] = [name.toLowerCase(), asked.toLowerCase()];
  return whole.startsWith(wanted) ? whole !== wanted : whole.split(" ").some((part) => part.startsWith(wanted));
}

import { useCombobox } from "downshift";
import { type RefObject, useEffect, useRef, useState } from "react";
import { Button } from "./button.tsx";
import { Field, type FieldLook, fieldClass, Hidden, type Labelled, type Tied } from "./field.tsx";

export interface Suggestion {
  key: string;
  name: string;
  /** A second line, in small. */
  about?: string | undefined;
}

interface Props<T extends Suggestion> {
  look?: FieldLook;
  id?: string;
  "aria-label"?: string;
  "aria-describedby"?: string | undefined;
  "aria-invalid"?: true | undefined;
  placeholder?: string | undefined;
  className?: string;
  input?: RefObject<HTMLInputElement | null>;
  /** What stands there while nobody types. */
  chosen?: string;
  suggestions: readonly T[];
  /** Whether the suggestions are for what is typed now; Enter waits until they are. */
  settled?: boolean;
  /** What is said where nothing is found. */
  none?: string;
  /** What is typed now; null once it is left. */
  onType(words: string | null): void;
  /** @param one null where the field was emptied */
  onChoose(one: T | null): void;
}

/** A line of text that offers what fits while one types; the arrows walk, Enter takes, Esc leaves. */
export function Combobox<T extends Suggestion>({
  look = "box",
  placeholder,
  className = "",
  input,
  chosen = "",
  suggestions,
  settled = true,
  none,
  onType,
  onChoose,
  ...tied
}: Props<T>) {
  const [typed, setTyped] = useState<string | null>(null);
  const [entered, setEntered] = useState(false);
  const type = (words: string | null) => {
    setTyped(words);
    setEntered(false);
    onType(words);
  };
  const choose = (one: T | null) => {
    type(null);
    onChoose(one);
  };
  const { isOpen, highlightedIndex, getMenuProps, getInputProps, getItemProps, closeMenu } = useCombobox<T>({
    items: suggestions as T[],
    itemToString: (one) => one?.name ?? "",
    itemToKey: (one) => one?.key ?? "",
    inputValue: typed ?? chosen,
    selectedItem: null,
    defaultHighlightedIndex: 0,
    onSelectedItemChange: ({ selectedItem }) => selectedItem && choose(selectedItem),
    stateReducer: (_, { type: kind, changes }) => {
      // What is left without a choice stays what it was.
      if (kind === useCombobox.stateChangeTypes.InputBlur) return { ...changes, selectedItem: null };
      return changes;
    },
  });
  // Enter means what was typed, not what an earlier word had found.
  // biome-ignore lint/correctness/useExhaustiveDependencies: it takes once, when its suggestions are there
  useEffect(() => {
    if (!entered || !settled) return;
    const [first] = suggestions;
    setEntered(false);
    if (first) {
      closeMenu();
      choose(first);
    }
  }, [entered, settled]);
  const shown = isOpen && typed !== null;
  return (
    <span className={`relative block ${className}`}>
      <input
        {...getInputProps({
          ...(input && { ref: input }),
          placeholder,
          onFocus: ({ currentTarget }) => typed === null && chosen === "" && type(currentTarget.value),
          onChange: ({ currentTarget }) => {
            if (currentTarget.value === "" && chosen !== "") choose(null);
            type(currentTarget.value);
          },
          onBlur: () => type(null),
          onKeyDown: (event) => {
            if (event.key === "Enter") {
              event.preventDefault();
              if (settled) return;
              (event.nativeEvent as Event & { preventDownshiftDefault?: boolean }).preventDownshiftDefault = true;
              setEntered(true);
            }
            if (event.key === "Escape" && typed !== null) {
              event.preventDefault();
              event.currentTarget.blur();
            }
          },
        })}
        {...tied}
        className={`${fieldClass(look)} w-full!`}
      />
      <div
        {...getMenuProps({ "aria-label": tied["aria-label"] ?? "Found" })}
        className={`absolute left-0 top-full z-40 mt-0.5 max-h-96 w-max min-w-full max-w-[92vw] overflow-auto border-2 border-ink bg-paper py-1 text-ink shadow-lg sm:max-w-96 ${shown && (suggestions.length > 0 || (none && settled)) ? "" : "hidden"}`}
      >
        {shown &&
          suggestions.map((one, index) => (
            <div
              key={one.key}
              {...getItemProps({ item: one, index })}
              className={`min-h-6 cursor-pointer px-3 py-1.5 text-13 ${index === highlightedIndex ? "bg-wash" : ""}`}
            >
              <span className="block truncate font-semibold">{one.name}</span>
              {one.about && <span className="block truncate text-12 font-normal text-rail">{one.about}</span>}
            </div>
          ))}
        {shown && suggestions.length === 0 && settled && none && (
          <p className="px-3 py-1.5 text-13 text-rail">{none}</p>
        )}
      </div>
    </span>
  );
}

type Pick<T extends Suggestion> = { name: string; choices: readonly T[]; placeholder?: string };

/** A choice of one among many, found by typing; it needs a label from `Field` or an `aria-label`. */
export function PickInput<T extends Suggestion>({
  name,
  defaultValue = "",
  choices,
  ...rest
}: Pick<T> & Partial<Tied> & { defaultValue?: string; look?: FieldLook; "aria-label"?: string; className?: string }) {
  const [key, setKey] = useState(defaultValue);
  const offer = useOffer(choices);
  return (
    <>
      <Hidden name={name} value={key} />
      <Combobox
        {...rest}
        {...offer}
        chosen={choices.find((one) => one.key === key)?.name ?? ""}
        onChoose={(one) => setKey(one?.key ?? "")}
      />
    </>
  );
}

/** The same with a label. */
export const PickField = <T extends Suggestion>({
  label,
  hint,
  error,
  ...rest
}: Labelled & Pick<T> & { defaultValue?: string }) => (
  <Field label={label} hint={hint} error={error} name={rest.name}>
    {(tied) => <PickInput {...tied} {...rest} />}
  </Field>
);

/** A labelled choice of several among many, found by typing one after the other. */
export function PickSome<T extends Suggestion>({
  label,
  hint,
  error,
  name,
  choices,
  placeholder,
  defaultValue = [],
}: Labelled & Pick<T> & { defaultValue?: readonly string[] }) {
  const [keys, setKeys] = useState(defaultValue);
  const input = useRef<HTMLInputElement>(null);
  const offer = useOffer(choices.filter((one) => !keys.includes(one.key)));
  const chosen = keys.flatMap((key) => choices.find((one) => one.key === key) ?? []);
  return (
    <Field label={label} hint={hint} error={error} name={name}>
      {(tied) => (
        <>
          {chosen.map((one) => (
            <p key={one.key} className="mb-1 flex items-center justify-between border-b border-rule text-13">
              <Hidden name={`${name}[]`} value={one.key} />
              {one.name}
              <Button
                look="word"
                type="button"
                aria-label={`Without ${one.name}`}
                onClick={() => {
                  setKeys(keys.filter((key) => key !== one.key));
                  input.current?.focus();
                }}
              >
                Without
              </Button>
            </p>
          ))}
          <Combobox
            {...tied}
            {...offer}
            input={input}
            placeholder={placeholder ?? (chosen.length > 0 ? "somebody else" : "whom")}
            onChoose={(one) => one && setKeys([...keys, one.key])}
          />
        </>
      )}
    </Field>
  );
}

/** What of many is offered for the words typed. */
function useOffer<T extends Suggestion>(choices: readonly T[]) {
  const [words, setWords] = useState<string | null>(null);
  const asked = words?.trim().toLowerCase() ?? "";
  const fits = choices.filter((one) => one.name.toLowerCase().includes(asked)).slice(0, OFFERED);
  return { suggestions: words === null ? [] : fits, none: "Nothing here is called so.", onType: setWords };
}

/** So many are offered at once; who looks for another types on. */
const OFFERED = 40;

import { getNonce } from "get-nonce";
import { Select as Radix } from "radix-ui";
import {
  Children,
  type ComponentProps,
  Fragment,
  isValidElement,
  type ReactElement,
  type ReactNode,
  useEffect,
  useRef,
  useState,
} from "react";
import { useTellsChosen } from "./choice-form.tsx";
import { Field, type FieldLook, fieldClass, type Labelled } from "./field.tsx";

interface OptionProps {
  value?: string | number;
  disabled?: boolean;
  /** Words alone; they are the value where none is given. */
  children?: string | number | null | undefined | (string | number | null | undefined | false)[];
}

/** Something a `Select` offers. It stands only inside one, which reads it. */
export const Option = (_: OptionProps): ReactNode => null;

/** A heading over some of what a `Select` offers. */
export const OptionGroup = (_: { label: string; children: ReactNode }): ReactNode => null;

interface Choice {
  value: string;
  name: string;
  disabled: boolean;
}

/** What is offered in a row, or under a heading. */
type Offered = Choice | { label: string; choices: Choice[] };

const nameOf = (children: ReactNode) => Children.toArray(children).join("");

function offered(children: ReactNode): Offered[] {
  return Children.toArray(children).flatMap((child): Offered[] => {
    if (!isValidElement(child)) return [];
    if (child.type === OptionGroup) {
      const group = child as ReactElement<{ label: string; children: ReactNode }>;
      const choices = offered(group.props.children).filter((one): one is Choice => "value" in one);
      return [{ label: group.props.label, choices }];
    }
    if (child.type === Fragment) return offered((child.props as { children?: ReactNode }).children);
    if (child.type !== Option) throw new Error("a Select holds Options alone");
    const { value, disabled = false, children: words } = (child as ReactElement<OptionProps>).props;
    const name = nameOf(words);
    return [{ value: String(value ?? name), name, disabled }];
  });
}

export interface SelectProps {
  look?: FieldLook;
  name?: string;
  value?: string;
  defaultValue?: string | number;
  disabled?: boolean;
  className?: string;
  id?: string;
  "aria-label"?: string;
  "aria-describedby"?: string | undefined;
  "aria-invalid"?: true | undefined;
  onChoose?(value: string): void;
  /** `Option`s and `OptionGroup`s. */
  children: ReactNode;
}

/** An item's value may not be empty; a choice's may. */
const inside = (value: string) => `=${value}`;

/** The keys that open a list. */
const OPENING = ["Enter", " ", "ArrowDown", "ArrowUp"];

const ITEM =
  "flex min-h-(--control) cursor-pointer select-none items-center gap-2 py-1 pl-2 pr-4 text-13 data-highlighted:bg-wash data-highlighted:outline-none data-disabled:cursor-not-allowed data-disabled:text-rail";

const Item = ({ value, name, disabled }: Choice) => (
  <Radix.Item value={inside(value)} disabled={disabled} className={ITEM}>
    <span className="w-2.5 shrink-0">
      <Radix.ItemIndicator>
        <span className="block size-1.5 bg-blue" />
      </Radix.ItemIndicator>
    </span>
    <Radix.ItemText>{name || "—"}</Radix.ItemText>
  </Radix.Item>
);

/** A choice of one among a few; it needs a label from `SelectField` or an `aria-label`. */
export function Select({
  look = "small",
  name,
  value,
  defaultValue,
  disabled = false,
  className = "",
  onChoose,
  children,
  ...tied
}: SelectProps) {
  const all = offered(children);
  const choices = all.flatMap((one) => ("value" in one ? [one] : one.choices));
  const first = String(defaultValue ?? choices[0]?.value ?? "");
  const [own, setOwn] = useState(first);
  // A closed list is a button. All that opens comes once somebody reaches for it: by the keyboard, for letters typed on
  // the closed list, or pressing it, which opens it.
  const [reached, setReached] = useState(false);
  const [open, setOpen] = useState(false);
  const pressing = useRef(false);
  const sent = useRef<HTMLInputElement>(null);
  const wanted = value ?? own;
  // What is no longer offered gives way to what is offered first, as the browser's own lists do.
  const at = value !== undefined || choices.some((one) => one.value === own) ? wanted : (choices[0]?.value ?? "");
  useEffect(() => {
    const form = sent.current?.form;
    const anew = () => setOwn(first);
    form?.addEventListener("reset", anew);
    return () => form?.removeEventListener("reset", anew);
  }, [first]);
  useTellsChosen(at);
  const choose = (next: string) => {
    // The browser's own list beneath says what it shows when its choices change, which may be the first of them; that
    // is no choice. Somebody chooses by pointer or by a key.
    if (window.event?.type === "change" || next === inside(at)) return;
    setOwn(next.slice(1));
    onChoose?.(next.slice(1));
  };
  const press = () => {
    setReached(true);
    setOpen(true);
  };
  const worn = {
    ...tied,
    "data-value": at,
    className: `${fieldClass(look)} inline-flex items-center justify-between gap-2 text-left ${className}`,
  };
  const shown = choices.find((one) => one.value === at)?.name || "—";
  return (
    <>
      {name !== undefined && <input ref={sent} type="hidden" name={name} value={at} disabled={disabled} />}
      {!reached ? (
        <button
          type="button"
          role="combobox"
          aria-expanded={false}
          aria-autocomplete="none"
          disabled={disabled}
          onPointerDown={() => {
            pressing.current = true;
          }}
          onFocus={() => pressing.current || setReached(true)}
          onBlur={() => {
            pressing.current = false;
          }}
          onKeyDown={(event) => {
            // Pressed and let go elsewhere it has the keyboard, closed.
            if (!OPENING.includes(event.key)) return;
            event.preventDefault();
            press();
          }}
          onClick={press}
          {...worn}
        >
          <span className="min-w-0 truncate">{shown}</span>
          <Down />
        </button>
      ) : (
        <Radix.Root value={inside(at)} onValueChange={choose} open={open} onOpenChange={setOpen} disabled={disabled}>
          <Radix.Trigger autoFocus={!open} {...worn}>
            <span className="min-w-0 truncate">
              <Radix.Value>{shown}</Radix.Value>
            </span>
            <Down />
          </Radix.Trigger>
          {open && (
            <Radix.Portal>
              <div className="pointer-events-auto fixed inset-0 z-40" />
            </Radix.Portal>
          )}
          <Radix.Portal>
            <Radix.Content
              position="popper"
              sideOffset={2}
              collisionPadding={8}
              className="z-40 max-h-(--radix-select-content-available-height) min-w-(--radix-select-trigger-width) max-w-[92vw] border-2 border-ink bg-paper text-ink shadow-lg"
            >
              <Radix.Viewport nonce={getNonce()} className="max-h-80 overflow-y-auto py-1">
                {all.map((one) =>
                  "value" in one ? (
                    <Item key={one.value} {...one} />
                  ) : (
                    <Radix.Group key={one.label}>
                      <Radix.Label className="px-2 pb-0.5 pt-2 text-12 text-rail">{one.label}</Radix.Label>
                      {one.choices.map((choice) => (
                        <Item key={choice.value} {...choice} />
                      ))}
                    </Radix.Group>
                  ),
                )}
              </Radix.Viewport>
            </Radix.Content>
          </Radix.Portal>
        </Radix.Root>
      )}
    </>
  );
}

const Down = () => (
  <svg viewBox="0 0 8 5" aria-hidden="true" className="h-1.5 w-2 shrink-0 fill-rail">
    <path d="M0 0h8L4 5z" />
  </svg>
);

/** A labelled choice of one. */
export const SelectField = ({ label, hint, error, ...rest }: Labelled & SelectProps) => (
  <Field label={label} hint={hint} error={error} name={rest.name}>
    {(tied) => <Select look="box" {...tied} {...rest} />}
  </Field>
);

/** A labelled choice of one among named things. @param none what is said, and meant, where nothing is chosen */
export const NamedField = ({
  none,
  options,
  ...rest
}: Omit<ComponentProps<typeof SelectField>, "children"> & {
  none: string;
  options: readonly { id: string; name: string }[];
}) => (
  <SelectField {...rest}>
    <Option value="">{none}</Option>
    {options.map(({ id, name }) => (
      <Option key={id} value={id}>
        {name}
      </Option>
    ))}
  </SelectField>
);

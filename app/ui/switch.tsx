import { Switch as Radix } from "radix-ui";
import { type ReactNode, useId } from "react";

/** Something that is on or off, and acts at once. */
export function Switch({
  checked,
  disabled = false,
  onChange,
  children,
}: {
  checked: boolean;
  disabled?: boolean;
  onChange(checked: boolean): void;
  children: ReactNode;
}) {
  const id = useId();
  return (
    <div className="flex min-h-6 items-center gap-2 text-13">
      <Radix.Root
        id={id}
        checked={checked}
        disabled={disabled}
        onCheckedChange={onChange}
        className="h-4 w-8 shrink-0 rounded border border-ink bg-paper px-px data-[state=checked]:bg-blue disabled:border-rule"
      >
        <Radix.Thumb className="block h-3 w-3.5 bg-ink data-[state=checked]:translate-x-3.5 data-[state=checked]:bg-paper" />
      </Radix.Root>
      <label htmlFor={id}>{children}</label>
    </div>
  );
}

import { DropdownMenu, Dialog as RadixDialog, Popover as RadixPopover } from "radix-ui";
import { type ReactElement, type ReactNode, useRef } from "react";
import { Link } from "react-router";

const PLATE = "border-2 border-ink bg-paper text-ink shadow-lg";

interface LayerProps {
  title: string;
  open: boolean;
  /** Left by Esc, by its own button, or by going on outside it. */
  onLeave(): void;
  children: ReactNode;
}

function Layer({ title, open, onLeave, children, place, veil }: LayerProps & { place: string; veil: string }) {
  const opener = useRef<Element | null>(null);
  return (
    <RadixDialog.Root open={open} onOpenChange={(next) => !next && onLeave()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className={`fixed inset-0 z-30 ${veil}`} />
        <RadixDialog.Content
          aria-describedby={undefined}
          // Esc is the layer's: what lies below hears nothing of it.
          onEscapeKeyDown={(event) => event.stopPropagation()}
          onOpenAutoFocus={() => {
            opener.current = document.activeElement;
          }}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            // Where what was answered took the keyboard on, it stays there.
            if (document.activeElement === document.body && opener.current instanceof HTMLElement)
              opener.current.focus();
          }}
          className={`fixed z-30 overflow-y-auto p-5 font-sans text-15 ${PLATE} ${place}`}
        >
          <RadixDialog.Title className="mb-3 text-15! font-bold">{title}</RadixDialog.Title>
          {children}
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}

/** Stands before everything else until it is answered or left; the keyboard goes back where it was. */
export const Dialog = (props: LayerProps) => (
  <Layer
    place="left-1/2 top-1/2 max-h-[92dvh] w-[min(620px,94vw)] -translate-x-1/2 -translate-y-1/2"
    veil="bg-veil"
    {...props}
  />
);

/** The same, from below, where the screen is narrow: what it is about stays in view above it. */
export const Sheet = (props: LayerProps) => (
  <Layer place="inset-x-0 bottom-0 max-h-[70dvh] border-x-0 border-b-0" veil="bg-veil/50" {...props} />
);

/** What opens at a button and is left by Esc, by Tab, or by pressing outside it. */
export function Popover({
  trigger,
  label,
  open,
  onOpen,
  side = "bottom",
  children,
}: {
  trigger: ReactElement;
  label: string;
  open?: boolean;
  onOpen?(open: boolean): void;
  side?: "bottom" | "top";
  children: ReactNode;
}) {
  return (
    <RadixPopover.Root {...(open !== undefined && { open })} {...(onOpen && { onOpenChange: onOpen })}>
      <RadixPopover.Trigger asChild>{trigger}</RadixPopover.Trigger>
      <RadixPopover.Portal>
        <RadixPopover.Content
          aria-label={label}
          side={side}
          align="start"
          sideOffset={4}
          collisionPadding={8}
          onEscapeKeyDown={(event) => event.stopPropagation()}
          className={`z-40 max-w-[94vw] p-3 text-13 ${PLATE}`}
        >
          {children}
        </RadixPopover.Content>
      </RadixPopover.Portal>
    </RadixPopover.Root>
  );
}

const MENU_ITEM =
  "block w-full cursor-pointer px-3 py-1.5 text-left text-13 data-highlighted:bg-wash data-highlighted:outline-none";

/** A list of things to do or places to go, at a button. */
export function Menu({ trigger, children }: { trigger: ReactElement; children: ReactNode }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          collisionPadding={8}
          className={`z-40 min-w-52 max-w-[92vw] py-1 ${PLATE}`}
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** Words in a menu that lead nowhere. */
export const MenuNote = ({ children }: { children: ReactNode }) => (
  <DropdownMenu.Label className="px-3 py-1.5 text-13 text-rail">{children}</DropdownMenu.Label>
);

/** A line between two parts of a menu. */
export const MenuRule = () => <DropdownMenu.Separator className="my-1 border-t border-rule" />;

/** A place to go. @param outside it is no page of the workshop, and is asked for as a whole */
export const MenuLink = ({ to, outside = false, children }: { to: string; outside?: boolean; children: ReactNode }) => (
  <DropdownMenu.Item asChild className={MENU_ITEM}>
    {outside ? <a href={to}>{children}</a> : <Link to={to}>{children}</Link>}
  </DropdownMenu.Item>
);

/** Something to do. */
export const MenuAct = ({ onAct, children }: { onAct(): void; children: ReactNode }) => (
  <DropdownMenu.Item onSelect={onAct} className={MENU_ITEM}>
    {children}
  </DropdownMenu.Item>
);

/** One of several choices in a menu. */
export const MenuChoice = ({
  label,
  value,
  choices,
  onChoose,
}: {
  label: string;
  value: string;
  choices: readonly (readonly [value: string, name: string])[];
  onChoose(value: string): void;
}) => (
  <DropdownMenu.RadioGroup value={value} onValueChange={onChoose}>
    <MenuNote>{label}</MenuNote>
    {choices.map(([key, name]) => (
      <DropdownMenu.RadioItem key={key} value={key} className={`${MENU_ITEM} flex! items-center gap-2`}>
        <span className="w-2">
          <DropdownMenu.ItemIndicator>
            <span className="block size-1.5 bg-blue" />
          </DropdownMenu.ItemIndicator>
        </span>
        {name}
      </DropdownMenu.RadioItem>
    ))}
  </DropdownMenu.RadioGroup>
);

import { Tooltip as Radix } from "radix-ui";
import type { ReactElement, ReactNode } from "react";

/** Stands around a page, so that a second hint follows the first at once. */
export const Tooltips = ({ children }: { children: ReactNode }) => (
  <Radix.Provider delayDuration={400} skipDelayDuration={200}>
    {children}
  </Radix.Provider>
);

/** A word of explanation at what the pointer or the keyboard rests on. */
export function Tooltip({ says, children }: { says: ReactNode; children: ReactElement }) {
  return (
    <Radix.Root>
      <Radix.Trigger asChild>{children}</Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          sideOffset={4}
          collisionPadding={8}
          className="z-50 max-w-72 bg-ink px-2 py-1 text-12 text-paper"
        >
          {says}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

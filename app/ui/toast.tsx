import { Toast as Radix } from "radix-ui";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";
import { Button } from "./button.tsx";

interface Said {
  id: number;
  words: ReactNode;
  undo?: () => void;
}

const Saying = createContext<(words: ReactNode, undo?: () => void) => void>(() => undefined);

/** Says for a moment what was done, with the way to undo it. */
export const useToast = () => useContext(Saying);

/** How long a toast stays, in milliseconds: long enough to be read, heard and undone. */
const STAYS = 8_000;

/** Stands around a page whose acts say for a moment what they did. */
export function Toasts({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<Said | null>(null);
  const say = useCallback(
    (words: ReactNode, undo?: () => void) =>
      setSaid((was) => ({ id: (was?.id ?? 0) + 1, words, ...(undo && { undo }) })),
    [],
  );
  return (
    <Saying value={say}>
      <Radix.Provider duration={STAYS} label="What was done">
        {children}
        {said && (
          <Radix.Root
            key={said.id}
            onOpenChange={(open) => !open && setSaid(null)}
            className="flex items-center justify-between gap-4 bg-ink px-4 py-2 text-13 text-paper"
          >
            <Radix.Description>{said.words}</Radix.Description>
            {said.undo && (
              <Radix.Action asChild altText="Undo">
                <Button type="button" look="bare" onClick={said.undo} className="font-semibold underline">
                  Undo
                </Button>
              </Radix.Action>
            )}
          </Radix.Root>
        )}
        <Radix.Viewport
          label="What was done ({hotkey})"
          className="fixed bottom-4 left-1/2 z-50 w-[min(440px,92vw)] -translate-x-1/2"
        />
      </Radix.Provider>
    </Saying>
  );
}

import { Accessibility, KeyboardSensor, PointerSensor, StyleInjector } from "@dnd-kit/dom";
import { DragDropProvider, useDraggable, useDragOperation, useDroppable } from "@dnd-kit/react";
import { getNonce } from "get-nonce";
import type { ComponentProps, ReactNode } from "react";

type Plugged = Exclude<NonNullable<ComponentProps<typeof DragDropProvider>["plugins"]>, readonly unknown[]>;
type Carried = { id: string | number } | null;
/** What happened, as far as it is told of. */
interface Told {
  operation: { source: Carried; target: Carried };
  canceled?: boolean;
}

interface Props {
  /** What a thing and a place are called, for those who hear them. */
  nameOf(id: string): string;
  /** How a thing is moved by keyboard. */
  instructions: string;
  /** Whether Enter and the arrows carry too; left out where they have another meaning there. */
  byKeyboard?: boolean;
  onDrop(thing: string, place: string): void;
  children: ReactNode;
}

/** Where things are carried to places, by pointer, finger or keyboard; Esc puts a thing back. */
export function DragArea({ nameOf, instructions, byKeyboard = true, onDrop, children }: Props) {
  return (
    <DragDropProvider
      sensors={byKeyboard ? [PointerSensor, KeyboardSensor] : [PointerSensor]}
      plugins={spoken(nameOf, instructions)}
      onDragEnd={({ operation: { source, target }, canceled }) => {
        if (!canceled && source && target && source.id !== target.id) onDrop(String(source.id), String(target.id));
      }}
    >
      {children}
    </DragDropProvider>
  );
}

/** What dragging says to those who hear it, and its own styles under the page's nonce. */
export const spoken = (nameOf: (id: string) => string, instructions: string): Plugged => {
  const name = (one: { id: string | number } | null) => (one ? nameOf(String(one.id)) : "nowhere");
  return (known) => [
    ...known.filter((one) => one !== Accessibility),
    StyleInjector.configure({ nonce: getNonce() }),
    Accessibility.configure({
      screenReaderInstructions: { draggable: instructions },
      announcements: {
        dragstart: ({ operation: { source } }: Told) => `${name(source)} is being moved.`,
        dragover: ({ operation: { source, target } }: Told) =>
          target ? `${name(source)} is over ${name(target)}.` : undefined,
        dragend: ({ operation: { source, target }, canceled }: Told) =>
          canceled || !target ? `${name(source)} stays where it was.` : `${name(source)} is at ${name(target)}.`,
      },
    }),
  ];
};

/** A thing that can be carried; `handle` is where it is taken hold of, where that is not all of it. */
export function useCarried(id: string, disabled = false) {
  const { ref, handleRef, isDragging } = useDraggable({ id, disabled });
  // What cannot be carried may still be pressed: it is not said to be off.
  return { thing: disabled ? unheld : ref, handle: disabled ? unheld : handleRef, isCarried: isDragging };
}

const unheld = (_: Element | null) => undefined;

/** A place something can be put. */
export function useLanding(id: string) {
  const { ref, isDropTarget } = useDroppable({ id });
  const { source } = useDragOperation();
  return { place: ref, isOver: isDropTarget, isAnyCarried: Boolean(source) };
}

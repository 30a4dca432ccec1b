import { PointerSensor } from "@dnd-kit/dom";
import { DragDropProvider } from "@dnd-kit/react";
import { isSortable, useSortable } from "@dnd-kit/react/sortable";
import type { ReactNode } from "react";
import { Button } from "./button.tsx";
import { spoken } from "./drag.tsx";

interface Props<T> {
  label: string;
  items: readonly T[];
  keyOf(item: T): string;
  nameOf(item: T): string;
  disabled?: boolean;
  onMove(from: number, to: number): void;
  children(item: T, index: number): ReactNode;
}

/** A list in an order of one's own: a row is dragged by its handle, or moved by the arrows on it. */
export function Sortable<T>({ label, items, onMove, children, keyOf, nameOf, disabled = false }: Props<T>) {
  return (
    <DragDropProvider
      plugins={spoken((id) => nameOf(items.find((one) => keyOf(one) === id) as T), "Arrow up and arrow down move it.")}
      sensors={[PointerSensor]}
      onDragEnd={({ operation: { source }, canceled }) => {
        if (canceled || !isSortable(source)) return;
        if (source.initialIndex !== source.index) onMove(source.initialIndex, source.index);
      }}
    >
      <ol aria-label={label} className="border-t border-ink">
        {items.map((item, index) => (
          <SortableRow
            key={keyOf(item)}
            id={keyOf(item)}
            name={nameOf(item)}
            disabled={disabled}
            {...{ index, last: items.length - 1, onMove }}
          >
            {children(item, index)}
          </SortableRow>
        ))}
      </ol>
    </DragDropProvider>
  );
}

function SortableRow({
  id,
  name,
  index,
  last,
  disabled,
  onMove,
  children,
}: {
  id: string;
  name: string;
  index: number;
  last: number;
  disabled: boolean;
  onMove(from: number, to: number): void;
  children: ReactNode;
}) {
  const { ref, handleRef, isDragging } = useSortable({ id, index, disabled });
  return (
    <li ref={ref} className={`flex items-start gap-2 border-b border-rule ${isDragging ? "bg-wash" : ""}`}>
      {!disabled && (
        <Button
          ref={handleRef}
          type="button"
          look="bare"
          aria-label={`Move ${name}`}
          title="Drag, or press the arrows"
          className="mt-1.5 cursor-grab text-rail hover:text-ink"
          onKeyDown={(event) => {
            const to = index + (event.key === "ArrowUp" ? -1 : event.key === "ArrowDown" ? 1 : 0);
            if (to === index || to < 0 || to > last) return;
            event.preventDefault();
            onMove(index, to);
          }}
        >
          ⠿
        </Button>
      )}
      <div className="min-w-0 flex-1">{children}</div>
    </li>
  );
}

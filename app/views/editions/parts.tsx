import { useEffect, useRef } from "react";
import { Link, useSubmit } from "react-router";
import { useBusy } from "#app/ui/action-form.tsx";
import { Button, IconButton } from "#app/ui/button.tsx";
import { DragArea, useCarried, useLanding } from "#app/ui/drag.tsx";
import { useFocusAfter } from "#app/ui/focus-after.ts";
import { Menu, MenuAct, MenuRule } from "#app/ui/layers.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Strip } from "#app/views/line/strip.tsx";
import { useCalendar, useClock } from "#app/views/time/clock.tsx";
import { inParts } from "#core/release/edition.ts";
import { saySlack, slack } from "#core/time/slack.ts";
import { sayDate } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { EditionProps } from "./data.ts";
import { stepOf, type useOrdering } from "./ordering.ts";

type Ordering = ReturnType<typeof useOrdering>;
type Item = Ordering["items"][number];

/** What is in it, part after part: carried by its handle, or moved by the arrows on it. */
export function Parts({
  page,
  items,
  move,
}: Pick<EditionProps, "page"> & { items: readonly Item[]; move: Ordering["move"] }) {
  const open = page.sees && !page.locked;
  const moving = useRef<string | null>(null);
  // A piece that comes into another part is drawn anew there, and keeps the keyboard.
  useEffect(() => {
    if (!moving.current || document.activeElement !== document.body) return;
    document.getElementById(`move-${moving.current}`)?.focus();
    moving.current = null;
  });
  const after = useRef<string | undefined>(undefined);
  useFocusAfter(() => document.getElementById(`move-${after.current}`));
  const nameOf = (id: string) => {
    const [what, key] = id.split(":");
    if (what === "end") return `the end of ${page.parts.find((part) => part.key === key)?.name}`;
    return items.find((item) => item.pieceId === key)?.row.title ?? "it";
  };
  const groups = inParts(items, page.parts);
  const numbers = new Map([...groups.values()].flat().map((item, i) => [item.pieceId, i + 1]));
  return (
    <DragArea
      nameOf={nameOf}
      instructions="Arrow up and arrow down move it."
      byKeyboard={false}
      onDrop={(thing, place) => {
        const [, pieceId = ""] = thing.split(":");
        const [what, key = ""] = place.split(":");
        if (what === "end") return move({ pieceId, part: key, before: null });
        const part = [...groups].find(([, some]) => some.some((one) => one.pieceId === key))?.[0];
        if (part !== undefined) move({ pieceId, part, before: key });
      }}
    >
      {page.parts.map(({ key, name }) => {
        const some = groups.get(key) ?? [];
        return (
          <PartOf key={key} part={key} name={name} items={some} open={open}>
            {some.map((item) => (
              <Piece
                key={item.pieceId}
                item={item}
                number={numbers.get(item.pieceId) ?? 0}
                page={page}
                open={open}
                onStep={(by) => {
                  const to = stepOf(items, page.parts, item.pieceId, by);
                  moving.current = item.pieceId;
                  if (to) move({ pieceId: item.pieceId, ...to });
                }}
                onLeave={() => {
                  const there = [...numbers.keys()];
                  const at = there.indexOf(item.pieceId);
                  after.current = there[at + 1] ?? there[at - 1];
                }}
                onPart={(part) => {
                  moving.current = item.pieceId;
                  move({ pieceId: item.pieceId, part, before: null });
                }}
              />
            ))}
          </PartOf>
        );
      })}
    </DragArea>
  );
}

function PartOf({
  part,
  name,
  items,
  open,
  children,
}: {
  part: string;
  name: string;
  items: readonly Item[];
  open: boolean;
  children: React.ReactNode;
}) {
  const { place, isOver, isAnyCarried } = useLanding(`end:${part}`);
  const words = items.reduce((sum, item) => sum + item.words, 0);
  return (
    <section aria-label={name} className="mt-5">
      <h2 className="flex justify-between gap-3 border-b border-ink pb-1.5">
        <span className="min-w-0 truncate">{name}</span>
        <span className="shrink-0 font-normal text-rail">
          {items.length === 0 ? "none yet" : `${counted(items.length, "piece")}, ${counted(words, "word")}`}
        </span>
      </h2>
      <Rows className="">{children}</Rows>
      {(items.length === 0 || isAnyCarried) && (
        <p
          ref={open ? place : undefined}
          className={`border-b border-rule px-9 py-2 text-13 text-rail ${isOver ? "bg-wash" : ""}`}
        >
          {items.length > 0
            ? `To the end of ${name}`
            : open
              ? "Drop a piece here, or send it here by its menu."
              : "Nothing."}
        </p>
      )}
    </section>
  );
}

function Piece({
  item,
  number,
  page,
  open,
  onStep,
  onPart,
  onLeave,
}: {
  item: Item;
  number: number;
  page: EditionProps["page"];
  open: boolean;
  onStep(by: 1 | -1): void;
  onPart(part: string): void;
  /** Called before it is taken out. */
  onLeave(): void;
}) {
  const { thing, handle, isCarried } = useCarried(`piece:${item.pieceId}`, !open);
  const { place, isOver } = useLanding(`before:${item.pieceId}`);
  const { row } = item;
  return (
    <Row
      ref={thing}
      id={`piece-${item.pieceId}`}
      className={`${isCarried ? "opacity-60" : ""} ${isOver ? "border-t-2 border-t-blue" : ""}`}
    >
      <div
        ref={place}
        className="grid min-h-12 grid-cols-[34px_minmax(0,1fr)_auto] items-center gap-x-3 py-1 sm:grid-cols-[34px_minmax(0,1fr)_70px_auto] xl:grid-cols-[34px_minmax(0,1fr)_70px_minmax(0,290px)_auto]"
      >
        {open ? (
          <Button
            ref={handle}
            type="button"
            look="bare"
            id={`move-${item.pieceId}`}
            aria-label={`Move ${row.title}, now number ${number}`}
            title="Drag, or press the arrows"
            className="cursor-grab text-right text-13 tabular-nums text-rail hover:text-ink"
            onKeyDown={(event) => {
              if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
              event.preventDefault();
              onStep(event.key === "ArrowUp" ? -1 : 1);
            }}
          >
            {number}
          </Button>
        ) : (
          <span className="text-right text-13 tabular-nums text-rail">{number}</span>
        )}
        <span className="min-w-0">
          <Link to={`/pieces/${row.slug}`} className="block truncate font-semibold hover:text-blue">
            {row.title}
          </Link>
          <Below item={item} page={page} />
          <span className="mt-1 block max-w-60 xl:hidden">
            <Strip stops={row.stops} seats={row.seats} likely={row.likely} bare />
          </span>
        </span>
        <span className="text-right text-13 tabular-nums max-sm:hidden">{item.words} words</span>
        <span className="min-w-0 max-xl:hidden">
          <Strip stops={row.stops} seats={row.seats} likely={row.likely} />
        </span>
        {open && <PieceMenu item={item} page={page} onPart={onPart} onLeave={onLeave} />}
      </div>
    </Row>
  );
}

/** Who wrote it, or in red what stands in its way. */
function Below({ item, page }: { item: Item; page: EditionProps["page"] }) {
  const { now, zone } = useClock();
  const calendar = useCalendar();
  const { row, holds, expected } = item;
  const late = expected !== null;
  return (
    <span
      className={`line-clamp-2 text-13 ${late || (holds.length > 0 && row.stateKind === "ready") ? "text-red" : "text-rail"}`}
    >
      {late
        ? `expected ${sayDate(expected, zone, now)}, ${saySlack(calendar, slack(calendar, expected, page.at))}`
        : row.stateKind === "ready" && holds[0]
          ? holds[0]
          : row.author}
      {item.late && ` · came in late: ${item.late}`}
    </span>
  );
}

function PieceMenu({
  item,
  page,
  onPart,
  onLeave,
}: {
  item: Item;
  page: EditionProps["page"];
  onPart(part: string): void;
  onLeave(): void;
}) {
  const submit = useSubmit();
  const busy = useBusy();
  const { next } = page;
  const elsewhere = page.parts.filter((part) => part.key !== item.part);
  const send = (values: Record<string, string>) => {
    onLeave();
    submit(values, { method: "post", preventScrollReset: true });
  };
  return (
    <Menu
      trigger={
        <IconButton label={`What to do with ${item.row.title}`} busy={busy}>
          <svg viewBox="0 0 16 4" aria-hidden="true" className="w-4 fill-rail">
            <circle cx="2" cy="2" r="1.6" />
            <circle cx="8" cy="2" r="1.6" />
            <circle cx="14" cy="2" r="1.6" />
          </svg>
        </IconButton>
      }
    >
      {elsewhere.map((part) => (
        <MenuAct key={part.key} onAct={() => onPart(part.key)}>
          To {part.name}
        </MenuAct>
      ))}
      {elsewhere.length > 0 && <MenuRule />}
      <MenuAct onAct={() => send({ intent: "take-out", editionId: page.id, pieceId: item.pieceId })}>
        Take it out
      </MenuAct>
      {next && (
        <MenuAct onAct={() => send({ intent: "fill", editionId: next.id, "pieces[]": item.pieceId, instead: "true" })}>
          Into {next.name} instead
        </MenuAct>
      )}
    </Menu>
  );
}

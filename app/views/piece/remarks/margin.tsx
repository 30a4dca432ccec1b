import { useEffect, useRef, useState } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Hidden } from "#app/ui/field.tsx";
import { Sheet } from "#app/ui/layers.tsx";
import { isForPage } from "#app/ui/rows.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { type Content, picturesOf, type Value } from "#core/text/fields.ts";
import { counted } from "#core/words/say.ts";
import { carried } from "../framed.tsx";
import type { PiecePage } from "../page.ts";
import { type Begun, begunHere } from "./begun.ts";
import { Beside } from "./beside.tsx";
import { Card } from "./card.tsx";
import { Composer } from "./composer.tsx";
import { FilterBar } from "./filter-bar.tsx";
import { EVERYTHING_OPEN, type Place, shows, stands, type Thread, useRemarks } from "./remarks.ts";
import { useNarrow } from "./use-beside.ts";
import { namesOf, WordsArea } from "./words.tsx";

interface Props {
  page: PiecePage;
  content: Content;
  viewer: string;
  storageKey: string;
  answer: FormAnswer | null | undefined;
}

/** What is said of the piece: beside the words it is said of, and above them what is said of the whole. */
export function Margin(props: Props) {
  const { page, viewer, storageKey } = props;
  const { threads, chosen, choose, composing, compose } = useRemarks();
  const [filter, setFilter] = useState(EVERYTHING_OPEN);
  const narrow = useNarrow();
  const [sheet, setSheet] = useState(false);
  // The one one is at is shown whatever the filter says.
  const shown = threads.filter((one) => one.id === chosen || shows(filter, one, viewer)).toSorted(byPlace(page));
  const kept = threads.filter((one) => one.sentAt === null);
  const open = threads.filter((one) => one.settledAt === null && one.sentAt !== null);
  const proposed = open.filter((one) => one.proposal && stands(one) && one.anchor?.exact === one.madeOn);
  useWalking(shown, chosen, choose);
  useStaying(threads);
  const [unsent, setUnsent] = useState<readonly Begun[]>([]);
  useEffect(() => setUnsent(composing ? [] : begunHere(storageKey)), [composing, storageKey]);
  const total =
    threads.length === 0
      ? "No remarks yet"
      : `${threads.length} remark${threads.length === 1 ? "" : "s"}, ${open.length || "none"} open`;
  const heading = (
    <h2 tabIndex={-1} className="text-rail outline-none" data-remarks="">
      {total}
    </h2>
  );
  const above = (
    <>
      <FilterBar threads={threads} filter={filter} onFilter={setFilter} />
      {kept.length > 0 && <Kept page={page} count={kept.length} />}
      {page.editable && proposed.length > 1 && <Together page={page} proposed={proposed} answer={props.answer} />}
      {unsent.map((one) => (
        <p key={JSON.stringify([one.place, one.proposes])} className="mt-2 border-l-3 border-blue pl-3 text-13">
          You began a remark{one.place.quote && ` on “${one.place.quote.exact.slice(0, 60)}”`}; it is not sent.{" "}
          <Button look="word" type="button" onClick={() => compose({ place: one.place, proposes: one.proposes })}>
            Go on with it
          </Button>
        </p>
      ))}
    </>
  );
  const composer = composing && <Composer key={JSON.stringify(composing)} composing={composing} {...props} />;
  useEffect(() => {
    if (narrow && (composing || chosen)) setSheet(true);
  }, [narrow, composing, chosen]);
  if (narrow)
    return (
      <>
        <div className="fixed inset-x-0 bottom-0 z-20 border-t-2 border-ink bg-paper px-4 py-2 no-print">
          <Button type="button" look="bare" onClick={() => setSheet(true)} className="w-full text-left font-semibold">
            {total}
          </Button>
        </div>
        <Sheet
          title="Remarks"
          open={sheet}
          onLeave={() => {
            setSheet(false);
            choose(null);
          }}
        >
          {above}
          <div className="mt-3 space-y-3">
            {composer}
            {shown.map((thread) => (
              <Card key={thread.id} thread={thread} folded={false} {...props} />
            ))}
            <OnThePiece {...props} />
          </div>
        </Sheet>
      </>
    );
  const general = shown.filter((thread) => !stands(thread));
  return (
    <section aria-label="Remarks">
      {heading}
      {above}
      <div className="mt-3 space-y-3">
        {composer && composing?.place.range === undefined && composer}
        {general.map((thread) => (
          <Card key={thread.id} thread={thread} folded={false} {...props} />
        ))}
        <OnThePiece {...props} />
      </div>
      <Beside
        {...props}
        shown={shown.filter(stands)}
        composer={composing?.place.range ? composer : null}
        composingAt={composing?.place.range ? composing.place : null}
      />
    </section>
  );
}

/** Pinned ones first, then what is said of the whole, then in the order of their words. */
const byPlace = (page: PiecePage) => {
  const order = ["title", ...page.kind.fields.map(({ key }) => key)];
  const rank = (one: Thread) => [
    one.pinnedAt ? 0 : 1,
    stands(one) ? 1 + order.indexOf(one.field ?? "") : 0,
    one.anchor?.start ?? 0,
  ];
  return (a: Thread, b: Thread) => {
    const [x, y] = [rank(a), rank(b)];
    const at = x.findIndex((n, i) => n !== y[i]);
    return at < 0 ? 0 : (x[at] ?? 0) - (y[at] ?? 0);
  };
};

/** `n` and `p` walk the remarks; the words come into view, and the keyboard goes to the card. */
function useWalking(shown: readonly Thread[], chosen: string | null, choose: (id: string) => void): void {
  const latest = useRef({ shown, chosen, choose });
  latest.current = { shown, chosen, choose };
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!isForPage(event) || (event.key !== "n" && event.key !== "p")) return;
      const { shown: all, chosen: at, choose: go } = latest.current;
      const now = all.findIndex(({ id }) => id === at);
      const by = event.key === "n" ? 1 : -1;
      const next = all[now < 0 ? (by > 0 ? 0 : all.length - 1) : Math.min(all.length - 1, Math.max(0, now + by))];
      if (next) go(next.id);
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, []);
  useEffect(() => {
    if (!chosen) return;
    const words = document.querySelector(`article [data-thread~="${chosen}"]`);
    words?.scrollIntoView({ block: "center" });
    // Once it stands where it belongs.
    requestAnimationFrame(() => {
      const card = document.querySelector<HTMLElement>(`[data-card="${chosen}"]`);
      if (card && !card.contains(document.activeElement) && !document.activeElement?.closest(".ProseMirror"))
        card.querySelector("button")?.focus({ preventScroll: words !== null });
    });
  }, [chosen]);
}

/** Where a card goes with the act done on it, the keyboard stays in the margin. */
function useStaying(threads: readonly Thread[]): void {
  const within = useRef(false);
  useEffect(() => {
    const onFocus = ({ target }: FocusEvent) => {
      within.current = target instanceof Element && target.closest("[data-card]") !== null;
    };
    document.addEventListener("focusin", onFocus);
    return () => document.removeEventListener("focusin", onFocus);
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at whenever other threads are there
  useEffect(() => {
    if (within.current && document.activeElement === document.body)
      document.querySelector<HTMLElement>("[data-remarks]")?.focus({ preventScroll: true });
  }, [threads]);
}

/** What one keeps back, and sending it all. */
function Kept({ page, count }: { page: PiecePage; count: number }) {
  const busy = useBusy("send-remarks");
  return (
    <ActionForm
      intent="send-remarks"
      label="What you keep back"
      answer={null}
      sends={{ pieceId: page.row.id }}
      className="mt-2 flex flex-wrap items-center gap-x-3 border-l-3 border-blue pl-3 text-13"
    >
      <span>
        You keep {counted(count, "remark")} back; nobody else sees {count === 1 ? "it" : "them"}.
      </span>
      <Button look="word" busy={busy}>
        {count === 1 ? "Send it" : "Send them all"}
      </Button>
    </ActionForm>
  );
}

/** All proposed wordings of one person at a stroke. */
function Together({ page, proposed, answer }: Pick<Props, "page" | "answer"> & { proposed: readonly Thread[] }) {
  const { acted } = useRemarks();
  const busy = useBusy();
  const people = [...new Set(proposed.map((one) => one.author))];
  return (
    <ul className="mt-2 space-y-1 text-13">
      {people.map((author) => {
        const theirs = proposed.filter((one) => one.author === author);
        const all = theirs.length === 1 ? "it" : "all";
        const acts = [
          ["accept", `Accept ${all}`],
          ["aside", `Set ${all} aside`],
        ] as const;
        return (
          <li
            key={author}
            onSubmitCapture={() => {
              acted.current = author;
            }}
          >
            <span className="flex flex-wrap items-center gap-x-3">
              {author}: {counted(theirs.length, "wording")}
              {acts.map(([intent, words]) => (
                <ActionForm
                  key={intent}
                  intent={intent}
                  answer={acted.current === author ? answer : null}
                  sends={{ pieceId: page.row.id }}
                  className=""
                >
                  {theirs.map(({ id }) => (
                    <Hidden key={id} name="threads[]" value={id} />
                  ))}
                  <Button look="word" busy={busy}>
                    {words}
                  </Button>
                </ActionForm>
              ))}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

/** Something said of the whole piece. */
function OnThePiece({ page, answer }: Props) {
  const busy = useBusy("comment");
  if (!page.commentable) return null;
  return (
    <ActionForm intent="comment" label="Comment" answer={answer} sends={carried(page)} empties className="space-y-2">
      <WordsArea names={namesOf(page)} label="Comment on the piece" name="body" rows={2} />
      <div className="flex flex-wrap items-end gap-2">
        <Button busy={busy} data-main="">
          Comment
        </Button>
        <Select look="small" aria-label="What it is on" name="place" defaultValue="">
          <Option value="">on the whole of it</Option>
          {placesOf(page).map(([name, place]) => (
            <Option key={name} value={JSON.stringify(place)}>
              {name}
            </Option>
          ))}
        </Select>
      </div>
    </ActionForm>
  );
}

/** What a remark can be on beside words: the fields that hold something, and each picture. */
function placesOf({ kind, content }: PiecePage): [name: string, place: Place][] {
  const fields = [{ key: "title", name: "Title", value: content.title as Value | undefined }].concat(
    kind.fields.map(({ key, name }) => ({ key, name, value: content.fields[key] })),
  );
  return fields.flatMap(({ key, name, value }) => {
    if (value === undefined || value === "") return [];
    const pictures = picturesOf(value).map(({ file, alt }, i): [string, Place] => [
      `on the picture: ${alt || `${name}, ${i + 1}`}`.slice(0, 60),
      { field: key, picture: file },
    ]);
    return [[`on ${name}`, { field: key }] as [string, Place], ...pictures];
  });
}

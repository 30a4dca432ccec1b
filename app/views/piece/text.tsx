import { lazy, Suspense, useEffect, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { Area } from "#app/ui/field.tsx";
import { later } from "#app/ui/later.tsx";
import { Hint, Message } from "#app/ui/message.tsx";
import { addressOf } from "#app/views/text/address.ts";
import { When } from "#app/views/time/clock.tsx";
import type { Span } from "#core/text/annotate.ts";
import { isManuscript, TITLE_LIMIT } from "#core/text/fields.ts";
import { type AddressOf, pictureToHtml, toHtml } from "#core/text/html.ts";
import { emptyManuscript, type Manuscript, type Picture } from "#core/text/manuscript.ts";
import { countCharacters } from "#core/text/measure.ts";
import { list } from "#core/words/say.ts";
import type { PiecePageData } from "#server/pieces/page.ts";
import type { Draft } from "./draft.ts";
import { type Holding, useHolding } from "./holding.ts";
import type { PiecePage } from "./page.ts";
import { spansOf, useRemarks } from "./remarks/remarks.ts";

const Apart = later(async () => (await import("./apart.tsx")).Apart);
const ManuscriptEditor = lazy(() => import("./editor/editor.tsx"));

/** The piece as readers will read it; where its state lets the viewer, and nobody else writes, one writes in it. */
export function Text({ page, draft }: { page: PiecePage; draft: Draft }) {
  const { content, state, generation, change } = draft;
  const holding = useHolding(page);
  const { threads, chosen, selected } = useRemarks();
  const standfirst = content.fields.standfirst;
  const set = (key: string) => (value: Manuscript) =>
    change((was) => ({ ...was, fields: { ...was.fields, [key]: value } }));
  const excess = countCharacters(content.title) - TITLE_LIMIT;
  return (
    <article className="mx-auto max-w-[66ch] font-serif text-19">
      {page.editable && <Above page={page} draft={draft} holding={holding} />}
      {holding.writable ? (
        <h1 className="mb-3 font-serif text-[32px]/[38px]">
          <Area
            look="bare"
            aria-label="Title"
            value={content.title}
            onChange={(event) => change((was) => ({ ...was, title: event.target.value.replace(/\n/g, " ") }))}
            rows={1}
            aria-invalid={excess > 0 || undefined}
            aria-describedby={excess > 0 ? "title-excess" : undefined}
          />
          {excess > 0 && (
            <span id="title-excess" className="block font-sans text-13 font-semibold text-red">
              {excess} characters too many: a title has at most {TITLE_LIMIT}. It is kept here and not saved.
            </span>
          )}
        </h1>
      ) : (
        <h1 className="mb-3 break-words font-serif text-[32px]/[38px]">{content.title}</h1>
      )}
      {typeof standfirst === "string" && standfirst && <p className="mb-6 text-[19px]/[30px] italic">{standfirst}</p>}
      {page.kind.fields.map(({ key, name, type, guidance }) => {
        const value = content.fields[key];
        if (type === "image") return value && <Reading key={key} value={value as Picture} />;
        if (type !== "manuscript") return null;
        const manuscript = isManuscript(value) ? value : emptyManuscript();
        return (
          <section key={key} aria-label={name} data-field={key}>
            {holding.writable ? (
              <InBrowser fallback={<Reading value={manuscript} spans={spansOf(threads, key)} />}>
                <ManuscriptEditor
                  label={name}
                  guidance={guidance ?? "Write here."}
                  home={{ id: page.row.id, slug: page.row.slug, files: page.files }}
                  value={manuscript}
                  generation={generation}
                  said={{ field: key, value: page.content.fields[key], threads, chosen, selected }}
                  onTouch={draft.touch}
                  onChange={set(key)}
                />
              </InBrowser>
            ) : (
              <Reading value={manuscript} spans={spansOf(threads, key)} />
            )}
          </section>
        );
      })}
      {state.kind === "apart" && <Apart page={page} draft={draft} />}
    </article>
  );
}

/** What stands in the way of writing, or of saving, above the text. */
function Above({ page, draft, holding }: { page: PiecePageData; draft: Draft; holding: Holding }) {
  const [said, setSaid] = useState("");
  const { state } = draft;
  const take = async () => setSaid((await draft.hold(true))?.sentence ?? "");
  if (holding.elsewhere && page.holder) {
    const { name, self, since } = page.holder;
    const unsaved = state.kind === "refused";
    return (
      <div
        role="status"
        className="sticky top-0 z-10 mb-6 border-l-3 border-yellow bg-paper px-3 py-2 font-sans text-13"
      >
        <p>
          <b className="font-semibold">
            {self ? "You write in this text in another window" : `${name} writes in this text`}
          </b>{" "}
          since <When at={since} />; you read along.
          {unsaved && " What you typed meanwhile is kept here and not in the text yet."}
        </p>
        <p className="mt-1.5 flex items-center gap-3">
          <Button type="button" onClick={take}>
            {unsaved ? "Take it back, and bring both together" : "Take over"}
          </Button>
          <span className="text-rail">{self ? "" : `${name} is told; nothing they saved is lost.`}</span>
        </p>
        {said && <p className="mt-1 font-semibold text-red">{said}</p>}
      </div>
    );
  }
  if (state.kind === "refused")
    return (
      <div className="mb-6 font-sans">
        <Message more={state.refusal.missing}>{state.refusal.sentence}</Message>
      </div>
    );
  const approvers = page.round?.seats.filter((seat) => seat.verdict === "approve").map((seat) => seat.person) ?? [];
  const approved = approvers.length > 0 ? list(approvers) : page.row.stateKind === "ready" ? "A review" : "";
  if (!approved && holding.writable && page.decision)
    return (
      <div className="mb-6 font-sans">
        <Hint>You change the text itself here. To propose instead, select words and press Ctrl Alt W.</Hint>
      </div>
    );
  if (!approved) return null;
  return (
    <div className="mb-6 font-sans">
      <Hint>
        {approved} approved exactly these words. Changing them makes {approvers.length > 1 ? "these approvals" : "that"}{" "}
        void, and it is asked for anew.
      </Hint>
    </div>
  );
}

function InBrowser({ children, fallback }: { children: React.ReactNode; fallback: React.ReactNode }) {
  const [there, setThere] = useState(false);
  useEffect(() => setThere(true), []);
  return there ? <Suspense fallback={fallback}>{children}</Suspense> : fallback;
}

/** A text or a picture as it is read. */
export function Reading({
  value,
  files = addressOf,
  spans = [],
}: {
  value: Manuscript | Picture;
  files?: AddressOf;
  spans?: readonly Span[];
}) {
  const html = isManuscript(value) ? toHtml(value, files, spans) : pictureToHtml(value as Picture, files);
  // biome-ignore lint/security/noDangerouslySetInnerHtml: our own renderer, which escapes everything
  return <div className="manuscript" dangerouslySetInnerHTML={{ __html: html }} />;
}

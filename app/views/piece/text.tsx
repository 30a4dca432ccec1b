import { lazy, Suspense, useEffect, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { Message } from "#app/ui/message.tsx";
import { TITLE_LIMIT } from "#core/text/fields.ts";
import { type Manuscript, toHtml } from "#core/text/manuscript.ts";
import type { PiecePageData } from "#server/pieces/page.ts";
import type { Draft } from "./draft.ts";

const ManuscriptEditor = lazy(() => import("./editor.tsx"));

/** The piece as readers will read it; where its state lets the viewer, one writes in it. */
export function Text({ page, draft }: { page: PiecePageData; draft: Draft }) {
  const { content, state, generation, change } = draft;
  const manuscripts = page.kind.fields.filter((field) => field.type === "manuscript");
  const standfirst = content.fields.standfirst;
  const set = (key: string) => (value: Manuscript) =>
    change((was) => ({ ...was, fields: { ...was.fields, [key]: value } }));
  return (
    <article className="mx-auto max-w-[66ch] font-serif text-19">
      {page.editable && state.kind === "refused" && (
        <div className="mb-6 font-sans">
          <Message more={state.refusal.code === "stale" ? [] : state.refusal.missing}>{state.refusal.sentence}</Message>
          {state.refusal.code === "stale" && (
            <p className="mt-2 flex gap-2">
              <Button type="button" onClick={() => draft.resolve("mine")}>
                Save mine as the newest version
              </Button>
              <Button type="button" onClick={() => draft.resolve("theirs")}>
                Take theirs instead
              </Button>
            </p>
          )}
        </div>
      )}
      {page.editable ? (
        <h1 className="mb-3 font-serif text-[32px]/[38px]">
          <textarea
            aria-label="Title"
            value={content.title}
            onChange={(event) => change((was) => ({ ...was, title: event.target.value.replace(/\n/g, " ") }))}
            rows={1}
            maxLength={TITLE_LIMIT * 2}
            className="field-sizing-content block w-full resize-none bg-transparent"
          />
        </h1>
      ) : (
        <h1 className="mb-3 break-words font-serif text-[32px]/[38px]">{content.title}</h1>
      )}
      {typeof standfirst === "string" && standfirst && <p className="mb-6 text-[19px]/[30px] italic">{standfirst}</p>}
      {manuscripts.map((field) => {
        const value = content.fields[field.key];
        const manuscript = typeof value === "object" ? value : { type: "doc", content: [{ type: "paragraph" }] };
        return (
          <section key={field.key} aria-label={field.name}>
            {page.editable ? (
              <InBrowser fallback={<Reading manuscript={manuscript} />}>
                <ManuscriptEditor
                  label={field.name}
                  guidance={field.guidance ?? "Write here."}
                  value={manuscript}
                  generation={generation}
                  onChange={set(field.key)}
                />
              </InBrowser>
            ) : (
              <Reading manuscript={manuscript} />
            )}
          </section>
        );
      })}
    </article>
  );
}

function InBrowser({ children, fallback }: { children: React.ReactNode; fallback: React.ReactNode }) {
  const [there, setThere] = useState(false);
  useEffect(() => setThere(true), []);
  return there ? <Suspense fallback={fallback}>{children}</Suspense> : fallback;
}

/** A text as it is read. */
export function Reading({ manuscript }: { manuscript: Manuscript }) {
  // biome-ignore lint/security/noDangerouslySetInnerHtml: our own renderer, which escapes everything
  return <div className="manuscript" dangerouslySetInnerHTML={{ __html: toHtml(manuscript) }} />;
}

import { useCallback, useEffect, useMemo, useRef } from "react";
import { useRevalidator, useSearchParams } from "react-router";
import { later } from "#app/ui/later.tsx";
import { useOwner } from "#app/views/frame/kept-here.ts";
import { useDraft } from "#app/views/piece/draft.ts";
import { Fields } from "#app/views/piece/fields.tsx";
import { Head } from "#app/views/piece/head.tsx";
import type { PiecePage } from "#app/views/piece/page.ts";
import { Passage } from "#app/views/piece/passage.tsx";
import { RemarksContext } from "#app/views/piece/remarks/remarks.ts";
import { Selecting } from "#app/views/piece/remarks/selecting.tsx";
import { useAllRemarks } from "#app/views/piece/remarks/use-all.ts";
import { useRemarksOf } from "#app/views/piece/remarks/use-remarks.ts";
import { Text } from "#app/views/piece/text.tsx";
import type { Route } from "../../routes/+types/piece.ts";

const Panel = later(async () => (await import("#app/views/piece/panel.tsx")).Panel);
const Margin = later(async () => (await import("#app/views/piece/remarks/margin.tsx")).Margin);

/** A piece: its head, its fields, its text, and beside it what is said and done. */
export function PieceView({
  page: sent,
  answer,
}: {
  page: PiecePage;
  answer: Route.ComponentProps["actionData"] | null;
}) {
  const page = useAllRemarks(sent);
  const { revalidate } = useRevalidator();
  const latest = useRef(revalidate);
  latest.current = revalidate;
  const onSaved = useCallback(() => void latest.current(), []);
  const server = useMemo(
    () => ({
      content: page.content,
      version: page.version.number,
      hash: page.version.hash,
      revision: page.row.revision,
      author: page.version.author ?? "somebody",
    }),
    [page],
  );
  const draft = useDraft(page.row, server, page.editable, onSaved);
  const { slug } = page.row;
  // Coming to look is told apart from the page's own request, which writes nothing.
  useEffect(() => {
    fetch(`/pieces/${slug}/look`, { method: "POST" })
      .then((answer) => {
        if (answer.headers.get("X-Changed") === "yes") latest.current();
      })
      .catch(() => undefined);
  }, [slug]);
  const [words] = useSearchParams();
  const doing = words.get("do");
  const owner = useOwner();
  const remarks = useRemarksOf(page, owner, answer);
  return (
    <RemarksContext value={remarks.shared}>
      <div className="flex min-h-full flex-col">
        <Head page={page} draft={draft} answer={answer} />
        {page.imported && <p className="border-b border-rule bg-wash px-6 py-2 text-13">{page.imported}</p>}
        <div className="grid flex-1 grid-cols-[minmax(0,1fr)] lg:grid-cols-[196px_minmax(0,1fr)_316px]">
          <div className="order-2 space-y-6 border-rule px-4 py-4 md:px-6 lg:order-1 lg:border-r lg:pr-4">
            <Fields page={page} draft={draft} answer={answer} />
            <Passage slug={slug} entries={page.passage} />
          </div>
          {/* biome-ignore lint/a11y/noStaticElementInteractions: by keyboard n and p walk the remarks */}
          {/* biome-ignore lint/a11y/useKeyWithClickEvents: the same */}
          <div className="order-1 px-4 py-6 lg:order-2 lg:px-14" onClick={remarks.onClick}>
            <Text page={page} draft={draft} />
            {page.commentable && <Selecting content={draft.content} />}
          </div>
          <div className="order-3 space-y-6 border-rule bg-enamel px-4 py-4 lg:border-l">
            {doing && (
              <Panel
                key={doing}
                doing={doing}
                page={page}
                saving={page.editable && (draft.state.kind !== "saved" || draft.hash !== page.version.hash)}
                answer={answer}
              />
            )}
            <Margin
              page={page}
              content={draft.content}
              viewer={owner}
              storageKey={remarks.storageKey}
              answer={answer}
            />
          </div>
        </div>
      </div>
    </RemarksContext>
  );
}

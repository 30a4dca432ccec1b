import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Hidden } from "#app/ui/field.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import type { Content } from "#core/text/fields.ts";
import { runOf } from "#core/text/proposal.ts";
import { carried } from "../framed.tsx";
import type { PiecePage } from "../page.ts";
import { type Begun, begunAt, dropBegun, keepBegun } from "./begun.ts";
import { type Composing, useRemarks } from "./remarks.ts";
import { namesOf, WordsArea } from "./words.tsx";

const WordingEditor = lazy(() => import("./wording.tsx"));

/** Where one says what one means on chosen words, or words them otherwise. */
export function Composer({
  page,
  content,
  composing,
  storageKey,
  answer,
}: {
  page: PiecePage;
  content: Content;
  composing: Composing;
  storageKey: string;
  answer: FormAnswer | null | undefined;
}) {
  const busy = useBusy("remark");
  const { compose } = useRemarks();
  const form = useRef<HTMLDivElement>(null);
  const { place, proposes } = composing;
  const begun = useMemo(() => begunAt(storageKey, composing), [storageKey, composing]);
  const value = place.field === "title" ? content.title : content.fields[place.field];
  const run = useMemo(() => (place.range ? runOf(value, place.range) : null), [value, place]);
  const [wording, setWording] = useState(begun.wording);
  const proposed = proposes && run ? (wording ?? run) : null;
  const write = (more: Partial<Begun>) => keepBegun(storageKey, { ...begunAt(storageKey, composing), ...more });
  const leave = () => {
    dropBegun(storageKey, composing);
    compose(null);
  };
  useEffect(() => {
    if (!proposes) form.current?.querySelector("textarea")?.focus();
  }, [proposes]);
  const decides = page.decision !== null;
  return (
    <div ref={form} className="border-l-3 border-blue bg-paper py-2 pl-3 pr-2 text-13 shadow-lg">
      <p className="mb-1.5 line-clamp-2 text-rail">{aboutWords(page, place)}</p>
      {proposes && !run && (
        <p className="mb-2">
          Wording is proposed for words of one paragraph, heading, item or cell. What you write here stays a remark.
        </p>
      )}
      {proposed && (
        <div className="mb-2">
          <Suspense fallback={<p className="text-rail">…</p>}>
            <WordingEditor
              value={proposed}
              onChange={(words) => {
                setWording(words);
                write({ wording: words });
              }}
            />
          </Suspense>
          <p className="mt-1 text-12 text-rail">
            Write it as it should stand, with <kbd>Ctrl B</kbd> and <kbd>Ctrl I</kbd>; empty takes the words out.
          </p>
        </div>
      )}
      <ActionForm
        intent="remark"
        label={proposes ? "Proposed wording" : "Remark"}
        answer={answer}
        sends={{ ...carried(page), place: JSON.stringify(place) }}
        className="space-y-2"
      >
        {proposed && <Hidden name="wording" value={JSON.stringify(proposed)} />}
        <div onInput={(event) => write({ body: (event.target as HTMLTextAreaElement).value })}>
          <WordsArea
            names={namesOf(page)}
            label={proposes ? "Why (you may leave it out)" : "Your remark"}
            name="body"
            rows={3}
            defaultValue={begun.body}
          />
        </div>
        {!proposes && (
          <SelectField label="What sort" name="kind" look="small" defaultValue="">
            <Option value="">No sort</Option>
            {page.remarkKinds.map(({ key, name }) => (
              <Option key={key} value={key}>
                {name}
              </Option>
            ))}
          </SelectField>
        )}
        <div className="flex flex-wrap gap-2">
          <Button look="go" name="keep" value={decides ? "true" : "false"} busy={busy} data-main="">
            {decides ? "Keep for now" : "Send"}
          </Button>
          <Button look="plain" name="keep" value={decides ? "false" : "true"} busy={busy}>
            {decides ? "Send at once" : "Keep for now"}
          </Button>
          <Button type="button" look="quiet" onClick={leave} data-leave-remark="">
            Leave
          </Button>
        </div>
      </ActionForm>
    </div>
  );
}

function aboutWords(page: PiecePage, place: Composing["place"]): string {
  if (place.quote) return `“${place.quote.exact}”`;
  if (place.picture) return "On the picture";
  const field = place.field === "title" ? "Title" : page.kind.fields.find(({ key }) => key === place.field)?.name;
  return `On ${field ?? "the piece"}`;
}

import { useCallback, useEffect, useRef, useState } from "react";
import { Form, useLocation, useNavigation } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { Hidden, TextArea } from "#app/ui/field.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import { Verdicts } from "#app/views/piece/deciding.tsx";
import { Reviewers } from "#app/views/piece/framed.tsx";
import type { Place } from "#app/views/piece/remarks/remarks.ts";
import { placeSelected } from "#app/views/piece/remarks/selecting.tsx";
import { Reading } from "#app/views/piece/text.tsx";
import type { Clock } from "#app/views/time/clock.tsx";
import type { Span } from "#core/text/annotate.ts";
import { filesBelow } from "#core/text/html.ts";
import type { Picture } from "#core/text/manuscript.ts";
import { isFact, sayValue } from "#core/text/values.ts";
import { sayInstant } from "#core/time/words.ts";
import type { GuestPageData } from "#server/guests/queries.ts";
import { Refused } from "./refused.tsx";

type Piece = GuestPageData;

interface Props {
  publication: string;
  clock: Clock;
  piece: Piece;
  answer: FormAnswer | null;
}

/** Where the guest's own open comments stand in a field. */
const spansIn = ({ comments }: Piece, field: string): Span[] =>
  comments.flatMap(({ id, on, settled }) =>
    on?.field === field && !settled ? [{ id, start: on.start, end: on.end, wording: null }] : [],
  );

const nothingWritten: Parameters<typeof placeSelected>[1] = new Map();

/** The words selected last in the text, until they are let go of. */
function useSelected({ content }: Piece): [Place | null, () => void] {
  const [place, setPlace] = useState<Place | null>(null);
  useEffect(() => {
    const onSelect = () => {
      const found = placeSelected(content, nothingWritten);
      if (found) setPlace(found);
    };
    document.addEventListener("selectionchange", onSelect);
    return () => document.removeEventListener("selectionchange", onSelect);
  }, [content]);
  return [place, useCallback(() => setPlace(null), [])];
}

/** One piece as a guest sees it: the text, what they said of it, and what they are asked. */
export function GuestPiece({ publication, clock, piece, answer }: Props) {
  const { content, fields } = piece;
  const { pathname } = useLocation();
  const lines = fields.filter((field) => isFact(field) && content.fields[field.key] !== undefined);
  return (
    <div className="grid min-h-screen grid-cols-[minmax(0,1fr)] grid-rows-[auto_1fr] lg:grid-cols-[minmax(0,1fr)_332px]">
      <header className="border-b-2 border-ink px-5 py-3 text-13 lg:col-span-2">
        <b className="text-15 font-bold [font-stretch:110%]">{publication}</b>{" "}
        <span className="text-rail">
          · {piece.name}, as a guest · this link is good until {sayInstant(piece.until, clock.zone, clock.now)}
        </span>
      </header>
      <main className="px-5 py-8 lg:px-14">
        <article className="mx-auto max-w-[66ch] font-serif text-19">
          <p className="mb-2 font-sans text-13 text-rail">
            {piece.kind}, version {piece.version.number}: not public yet
          </p>
          <h1 className="mb-3 break-words font-serif text-[32px]/[38px]">{content.title}</h1>
          {lines.length > 0 && (
            <dl className="mb-6 grid grid-cols-[120px_minmax(0,1fr)] gap-x-4 gap-y-1 border-y border-rule py-3 font-sans text-13">
              {lines.map((field) => (
                <div key={field.key} className="contents">
                  <dt className="text-rail">{field.name}</dt>
                  <dd className="break-words">{sayValue(field, content)}</dd>
                </div>
              ))}
            </dl>
          )}
          {fields.map(({ key, name, type }) => {
            const value = content.fields[key];
            if (type !== "image" && type !== "manuscript") return null;
            return (
              value && (
                <section key={key} aria-label={name} data-field={key}>
                  <Reading value={value as Picture} files={filesBelow(pathname)} spans={spansIn(piece, key)} />
                </section>
              )
            );
          })}
        </article>
      </main>
      <aside className="space-y-8 border-rule px-5 py-6 lg:border-l">
        {piece.note && <p className="border-l-3 border-yellow pl-3 text-13 whitespace-pre-line">{piece.note}</p>}
        {piece.decision && <Deciding piece={piece} decision={piece.decision} clock={clock} answer={answer} />}
        <Remarks piece={piece} clock={clock} answer={answer} />
      </aside>
    </div>
  );
}

function Deciding({
  piece,
  decision,
  clock,
  answer,
}: {
  piece: Piece;
  decision: NonNullable<Piece["decision"]>;
  clock: Clock;
  answer: FormAnswer | null;
}) {
  const busy = useNavigation().state === "submitting";
  const [changing, setChanging] = useState(false);
  const closed = decision.verdicts.find((one) => one.refusal);
  const picking = decision.verdicts.find((one) => one.choose);
  const errors = fieldErrors(answer, "decide");
  if (decision.decided && !changing)
    return (
      <section aria-label="Your decision" className="text-13">
        <p role="status">Your decision is in. Thank you.</p>
        <Button type="button" look="quiet" className="-ml-3" onClick={() => setChanging(true)}>
          Decide anew
        </Button>
      </section>
    );
  return (
    <section aria-label="Your decision">
      <h2 className="mb-2 text-15! font-bold">Your decision</h2>
      <ActForm intent="decide" answer={answer} sends={{ versionHash: piece.version.hash }}>
        <TextArea label="A note to the writer" name="note" maxLength={4000} error={errors.note} />
        {closed?.refusal && (
          <p className="text-13 text-rail">
            {closed.name} is closed: {closed.refusal.sentence} {closed.refusal.missing?.join("; ")}
          </p>
        )}
        {picking?.choose && <Reviewers choose={picking.choose} clock={clock} />}
        <Verdicts verdicts={decision.verdicts.filter((one) => one.verdict !== "abstain")} busy={busy} />
      </ActForm>
    </section>
  );
}

function Remarks({ piece, clock, answer }: Omit<Props, "publication">) {
  const busy = useNavigation().state === "submitting";
  const form = useRef<HTMLFormElement>(null);
  const count = piece.comments.length;
  const [place, letGo] = useSelected(piece);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new comment in the list is the sign that the box was sent
  useEffect(() => {
    if (answer?.intent !== "comment" || answer.refusal) return;
    form.current?.reset();
    letGo();
  }, [count, answer]);
  return (
    <section aria-label="Comments">
      <h2 className="mb-2 text-15! font-bold">Comments</h2>
      <ul className="mb-3 space-y-3">
        {piece.comments.map((one) => (
          <li
            key={one.id}
            className={`border-l-3 pl-3 text-13 ${one.settled ? "border-rule text-rail" : "border-yellow"}`}
          >
            <p className="text-rail">
              {sayInstant(one.at, clock.zone, clock.now)}
              {one.settled && " · settled"}
            </p>
            {one.on && <p className="line-clamp-2 break-words text-rail">“{one.on.exact}”</p>}
            <p className="whitespace-pre-line break-words">{one.body}</p>
          </li>
        ))}
      </ul>
      <Form ref={form} method="post" preventScrollReset className="space-y-2">
        <Hidden name="intent" value="comment" />
        <Refused answer={answer} intent="comment" shown={["body"]} />
        {place?.quote ? (
          <p className="border-l-3 border-blue pl-3 text-13">
            <Hidden name="place" value={JSON.stringify(place)} />
            On <q className="break-words">{place.quote.exact.slice(0, 300)}</q>{" "}
            <Button type="button" look="word" onClick={letGo}>
              on the whole piece instead
            </Button>
          </p>
        ) : (
          <p className="text-13 text-rail">Select words of the text to comment on just these.</p>
        )}
        <TextArea
          label={place ? "Comment on these words" : "Comment on the piece"}
          name="body"
          error={fieldErrors(answer, "comment").body}
        />
        <Button busy={busy}>Comment</Button>
      </Form>
    </section>
  );
}

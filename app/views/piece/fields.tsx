import { useDeferredValue, useId, useMemo } from "react";
import { Form } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { Message } from "#app/ui/message.tsx";
import { When } from "#app/views/time/clock.tsx";
import { countFields, type Field, fieldProblems } from "#core/text/fields.ts";
import type { PiecePageData } from "#server/pieces/page.ts";
import type { Draft } from "./draft.ts";

/** Left of the text: the kind's fields with their counts, the checklist, the round's seats, the versions. */
export function Fields({
  page,
  draft,
  answer,
}: {
  page: PiecePageData;
  draft: Draft;
  answer: FormAnswer | null | undefined;
}) {
  const content = useDeferredValue(draft.content);
  const counts = useMemo(() => countFields(content), [content]);
  const problems = new Map(fieldProblems(page.kind.fields, counts).map((problem) => [problem.key, problem.sentence]));
  return (
    <div className="space-y-6 text-13">
      <section>
        <h2 className="text-rail">Fields</h2>
        <div className="mt-2 space-y-2.5">
          {page.kind.fields.map((field) => (
            <OneField
              key={field.key}
              field={field}
              page={page}
              draft={draft}
              words={counts[field.key] ?? 0}
              problem={problems.get(field.key)}
            />
          ))}
        </div>
      </section>
      {page.round && <Seats round={page.round} />}
      {page.checklist.length > 0 && (
        <section>
          <h2 className="text-rail">Checklist</h2>
          {answer?.intent === "tick" && answer.refusal && <Message>{answer.refusal.sentence}</Message>}
          <ul className="mt-1">
            {page.checklist.map((point) => (
              <li key={point.position}>
                <Form method="post" preventScrollReset>
                  <Shared page={page} intent="tick" />
                  <input type="hidden" name="position" value={point.position} />
                  <button
                    type="submit"
                    name="done"
                    value={point.done ? "false" : "true"}
                    aria-pressed={point.done !== null}
                    className="flex gap-2 py-1 text-left hover:text-blue"
                    title={point.done ?? undefined}
                  >
                    <span
                      aria-hidden="true"
                      className={`mt-0.5 size-3.5 shrink-0 border border-ink ${point.done ? "bg-ink" : "bg-paper"}`}
                    />
                    {point.words}
                  </button>
                </Form>
              </li>
            ))}
          </ul>
        </section>
      )}
      <section>
        <h2 className="text-rail">Versions</h2>
        <ol className="mt-1 space-y-1">
          {page.versions.slice(0, 8).map((version) => (
            <li key={version.id} title={version.hash}>
              <b className="font-semibold">{version.number}</b> · {version.author}, <When at={version.at} />
              {(version.approved || version.live) && (
                <span className="text-rail">
                  {" "}
                  · {[version.approved && "approved", version.live && "live"].filter(Boolean).join(", ")}
                </span>
              )}
            </li>
          ))}
        </ol>
        {page.versions.length > 8 && <p className="mt-1 text-rail">and {page.version.number - 8} before</p>}
      </section>
    </div>
  );
}

/** What every form of the page carries. */
export function Shared({ page, intent }: { page: { row: { id: string }; formKey?: string }; intent: string }) {
  return (
    <>
      <input type="hidden" name="intent" value={intent} />
      <input type="hidden" name="pieceId" value={page.row.id} />
      <input type="hidden" name="formKey" value={page.formKey} />
    </>
  );
}

function OneField({
  field,
  page,
  draft,
  words,
  problem,
}: {
  field: Field;
  page: PiecePageData;
  draft: Draft;
  words: number;
  problem: string | undefined;
}) {
  const id = useId();
  const value = draft.content.fields[field.key];
  const limit =
    field.maxWords && field.minWords
      ? `${words} of ${field.minWords}–${field.maxWords} words`
      : field.maxWords
        ? `${words} of ${field.maxWords} words`
        : field.type === "manuscript"
          ? `${words} words`
          : "";
  const missing = problem !== undefined && words === 0;
  return (
    <div>
      <label htmlFor={id} className="block text-12 text-rail">
        {field.name}
      </label>
      {field.type === "line" && page.editable ? (
        <textarea
          id={id}
          rows={1}
          value={typeof value === "string" ? value : ""}
          placeholder={field.guidance ?? "—"}
          aria-describedby={`${id}-limit`}
          onChange={(event) =>
            draft.change((was) => ({
              ...was,
              fields: { ...was.fields, [field.key]: event.target.value.replace(/\n/g, " ") },
            }))
          }
          className="field-sizing-content -mx-1 block w-full resize-none rounded border border-transparent bg-transparent px-1 font-semibold placeholder:font-normal placeholder:text-rail hover:border-track focus:border-blue focus:bg-paper"
        />
      ) : field.type === "line" ? (
        <p id={id} className="break-words font-semibold">
          {typeof value === "string" && value ? (
            value
          ) : (
            <span className="font-normal text-rail">{missing ? "missing" : "none"}</span>
          )}
        </p>
      ) : null}
      <p
        id={`${id}-limit`}
        className={`text-12 ${problem ? "font-semibold text-red" : "text-rail"} ${field.type === "manuscript" ? "text-13 font-semibold" : ""}`}
      >
        {missing && field.type === "line" ? "missing" : limit}
      </p>
    </div>
  );
}

function Seats({ round }: { round: NonNullable<PiecePageData["round"]> }) {
  const said = { approve: "approved", return: "returned", decline: "declined", abstain: "abstained" };
  const waits = { open: "to decide", waiting: "waits their turn", decided: "", void: "does not count", closed: "" };
  return (
    <section>
      <h2 className="text-rail">This review</h2>
      <ul className="mt-1 space-y-1">
        {round.seats.map((seat) => (
          <li key={seat.person + seat.status} title={seat.void ?? seat.note}>
            <b className="font-semibold">{seat.person}</b>
            {seat.for && ` for ${seat.for}`}{" "}
            <span className="text-rail">{seat.verdict ? said[seat.verdict] : waits[seat.status]}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

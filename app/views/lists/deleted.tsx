import { Link, useNavigation, useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { TextArea } from "#app/ui/field.tsx";
import { ActForm } from "#app/views/people/act-form.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { DeletedRow } from "#server/pieces/deleting.ts";

/** What was deleted and may be brought back, and, for who may, erased for good. */
export function Deleted({
  rows,
  answer,
}: {
  rows: readonly DeletedRow[];
  answer: (FormAnswer & { pieceId?: string }) | null;
}) {
  const [words] = useSearchParams();
  return (
    <div className="px-4 py-5 md:px-6">
      <p className="mb-1 text-13 text-rail">
        <Link data-back to="/pieces" className="hover:text-blue">
          Pieces
        </Link>{" "}
        / Deleted
      </p>
      <h1>Deleted pieces</h1>
      <p className="mt-1 text-13 text-rail">
        {rows.length === 0
          ? "Nothing is deleted that you could bring back."
          : "Hidden from everybody. What is brought back comes as it was, without its plan."}
      </p>
      {answer?.intent === "erase" && !answer.refusal && Object.keys(answer.fields).length === 0 && (
        <p role="status" className="mt-2 text-13">
          It is erased. The record says so, and why.
        </p>
      )}
      <ul aria-label="Deleted pieces" className={rows.length > 0 ? "mt-4 border-t border-ink" : ""}>
        {rows.map((row) => (
          <li key={row.id} data-row className="border-b border-rule py-2 focus-within:bg-wash">
            <div className="grid items-center gap-x-4 gap-y-1 sm:grid-cols-[minmax(0,1fr)_auto]">
              <div className="min-w-0">
                <p className="truncate font-semibold">{row.title}</p>
                <p className="truncate text-13 text-rail">
                  {row.author} · {row.section} · deleted by {row.by ?? "somebody"} <When at={row.deletedAt} />
                  {row.note && `: ${row.note}`}
                </p>
              </div>
              <div className="flex gap-2">
                <Act intent="restore" row={row} answer={answer}>
                  Bring it back
                </Act>
                {row.erasable && (
                  <ButtonLink look="quiet" to={`?erase=${row.id}`} preventScrollReset>
                    Erase for good
                  </ButtonLink>
                )}
              </div>
            </div>
            {words.get("erase") === row.id && row.erasable && <Erasing row={row} answer={answer} />}
          </li>
        ))}
      </ul>
    </div>
  );
}

function Act({
  intent,
  row,
  answer,
  children,
}: {
  intent: string;
  row: DeletedRow;
  answer: (FormAnswer & { pieceId?: string }) | null;
  children: string;
}) {
  const busy = useNavigation().state !== "idle";
  return (
    <ActForm intent={intent} answer={answer?.pieceId === row.id ? answer : null} sends={{ pieceId: row.id }}>
      <Button busy={busy}>{children}</Button>
    </ActForm>
  );
}

/** What cannot be undone asks its reason first. */
function Erasing({ row, answer }: { row: DeletedRow; answer: (FormAnswer & { pieceId?: string }) | null }) {
  const busy = useNavigation().state !== "idle";
  const mine = answer?.pieceId === row.id && answer.intent === "erase" ? answer : null;
  return (
    <ActForm
      intent="erase"
      answer={mine}
      sends={{ pieceId: row.id }}
      action="/pieces/deleted"
      className="mt-2 max-w-120 space-y-2 border-l-3 border-red pl-3"
    >
      <p className="text-13">
        Its words, comments, notices and what the record says of it are gone for good. That it was erased, by whom and
        why, stays on record.
      </p>
      <TextArea label="Why" name="note" required maxLength={4000} error={mine?.fields.note} autoFocus />
      <div className="flex gap-2">
        <Button look="go" busy={busy}>
          Erase “{row.title.length > 40 ? `${row.title.slice(0, 40)}…` : row.title}”
        </Button>
        <ButtonLink look="quiet" to="/pieces/deleted" data-back>
          Leave it
        </ButtonLink>
      </div>
    </ActForm>
  );
}

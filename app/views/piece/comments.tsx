import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { TextArea } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { PiecePageData } from "#server/pieces/page.ts";
import { carried } from "./framed.tsx";

/** The margin: what was said of the piece, open remarks first. */
export function Comments({
  page,
  answer,
}: {
  page: PiecePageData & { formKey: string };
  answer: FormAnswer | null | undefined;
}) {
  const busy = useBusy("comment");
  const { comments } = page;
  const open = comments.filter((comment) => comment.settledAt === null);
  const refusal = answer?.intent === "settle" ? answer.refusal : null;
  return (
    <section aria-label="Comments">
      <h2 className="text-rail">
        {comments.length === 0
          ? "No comments yet"
          : `${comments.length} comment${comments.length === 1 ? "" : "s"}, ${open.length || "none"} open`}
      </h2>
      {refusal && <Message>{refusal.sentence}</Message>}
      <ul className="mt-2 space-y-3">
        {[...open, ...comments.filter((comment) => comment.settledAt !== null)].map((comment) => (
          <li
            key={comment.id}
            className={`border-l-3 pl-3 text-13 ${comment.settledAt ? "border-rule text-rail" : "border-yellow"}`}
          >
            <p>
              <b className="font-semibold">{comment.author}</b>{" "}
              <span className="text-rail">
                on version {comment.version} · <When at={comment.at} />
              </span>
            </p>
            <p className="whitespace-pre-line break-words">{comment.body}</p>
            {comment.settlable && (
              <ActionForm
                intent="settle"
                answer={null}
                sends={{ ...carried(page), commentId: comment.id }}
                className=""
              >
                <Button
                  look="word"
                  name="settled"
                  value={comment.settledAt ? "false" : "true"}
                  aria-label={`${comment.settledAt ? "Open again" : "Settle"} what ${comment.author} said`}
                >
                  {comment.settledAt ? "Open again" : "Settle"}
                </Button>
              </ActionForm>
            )}
          </li>
        ))}
      </ul>
      {page.commentable && (
        <div className="mt-4">
          <ActionForm
            intent="comment"
            label="Comment"
            answer={answer}
            sends={carried(page)}
            empties
            className="space-y-2"
          >
            <TextArea label="Comment on the piece" name="body" />
            <Button busy={busy}>Comment</Button>
          </ActionForm>
        </div>
      )}
    </section>
  );
}

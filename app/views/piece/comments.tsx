import { useEffect, useRef } from "react";
import { Form, useNavigation } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { Hidden, TextArea } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { PiecePageData } from "#server/pieces/page.ts";
import { Shared } from "./shared.tsx";

/** The margin: what was said of the piece, open remarks first. */
export function Comments({
  page,
  answer,
}: {
  page: PiecePageData & { formKey: string };
  answer: FormAnswer | null | undefined;
}) {
  const busy = useNavigation().state !== "idle";
  const form = useRef<HTMLFormElement>(null);
  const { comments } = page;
  const open = comments.filter((comment) => comment.settledAt === null);
  const refusal = answer?.intent === "comment" || answer?.intent === "settle" ? answer.refusal : null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new comment in the list is the sign that the box was sent
  useEffect(() => {
    if (answer?.intent === "comment" && !answer.refusal) form.current?.reset();
  }, [comments.length, answer]);
  return (
    <section aria-label="Comments">
      <h2 className="text-rail">
        {comments.length === 0
          ? "No comments yet"
          : `${comments.length} comment${comments.length === 1 ? "" : "s"}, ${open.length || "none"} open`}
      </h2>
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
              <Form method="post" preventScrollReset>
                <Shared page={page} intent="settle" />
                <Hidden name="commentId" value={comment.id} />
                <Button look="word" type="submit" name="settled" value={comment.settledAt ? "false" : "true"}>
                  {comment.settledAt ? "Open again" : "Settle"}
                </Button>
              </Form>
            )}
          </li>
        ))}
      </ul>
      {page.commentable && (
        <Form ref={form} method="post" preventScrollReset className="mt-4 space-y-2">
          <Shared page={page} intent="comment" />
          {refusal && <Message>{refusal.sentence}</Message>}
          <TextArea label="Comment on the piece" name="body" />
          <Button busy={busy}>Comment</Button>
        </Form>
      )}
    </section>
  );
}

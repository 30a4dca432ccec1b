import { type ReactNode, useState } from "react";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Message } from "#app/ui/message.tsx";
import { SETTLEMENT_WORDS, SETTLEMENTS } from "#core/remarks/thread.ts";
import { carried } from "../framed.tsx";
import type { PiecePage } from "../page.ts";
import type { CardProps, Thread } from "./remarks.ts";
import { namesOf, WordsArea } from "./words.tsx";

type Comment = Thread["comments"][number];

/** What one does with one's own words. */
export function Own({ page, comment, reword }: { page: PiecePage; comment: Comment; reword(id: string): void }) {
  return (
    <>
      {comment.body !== "" && (
        <Button look="word" type="button" onClick={() => reword(comment.id)}>
          Change
        </Button>
      )}
      <Act page={page} intent="take-back" sends={{ commentId: comment.id }}>
        Take back
      </Act>
    </>
  );
}

/** A button that is a form of its own. */
function Act({
  page,
  intent,
  sends,
  children,
}: {
  page: PiecePage;
  intent: string;
  sends: Record<string, string>;
  children: ReactNode;
}) {
  const busy = useBusy(intent);
  return (
    <ActionForm intent={intent} answer={null} sends={{ pieceId: page.row.id, ...sends }} className="flex">
      <Button look="word" busy={busy}>
        {children}
      </Button>
    </ActionForm>
  );
}

export function Acts({
  page,
  thread,
  viewer,
  answer,
  kept,
  reword,
}: Omit<CardProps, "folded"> & { kept: boolean; reword(id: string): void }) {
  const [replying, setReplying] = useState(false);
  const [settling, setSettling] = useState(false);
  const on = { threadId: thread.id };
  const said = thread.comments[0];
  const proposes = thread.proposal !== null && !thread.settledAt && !kept;
  const fits = thread.anchor !== null && !thread.anchor.gone && thread.anchor.exact === thread.madeOn;
  const refused = ["settle", "pin", "accept", "aside", "take-back"].includes(answer?.intent ?? "")
    ? answer?.refusal
    : null;
  return (
    <div className="mt-1">
      {refused && <Message more={refused.missing ?? []}>{refused.sentence}</Message>}
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        {kept && thread.authorId === viewer && (
          <Act page={page} intent="send-remarks" sends={on}>
            Send it
          </Act>
        )}
        {proposes && page.editable && fits && (
          <Act page={page} intent="accept" sends={{ threads: thread.id }}>
            Accept
          </Act>
        )}
        {proposes && page.editable && (
          <Act page={page} intent="aside" sends={{ threads: thread.id }}>
            Set aside
          </Act>
        )}
        {page.commentable && !kept && !replying && (
          <Button look="word" type="button" onClick={() => setReplying(true)}>
            Reply
          </Button>
        )}
        {said && said.authorId === viewer && page.commentable && !said.takenBackAt && (
          <Own page={page} comment={said} reword={reword} />
        )}
        {thread.settlable && !kept && !proposes && !thread.settledAt && !settling && (
          <Button look="word" type="button" onClick={() => setSettling(true)}>
            Settle
          </Button>
        )}
        {thread.settlable && thread.settledAt && (
          <Act page={page} intent="settle" sends={{ ...on, settled: "false" }}>
            Open again
          </Act>
        )}
        {thread.settlable && !kept && (
          <Act page={page} intent="pin" sends={{ ...on, pinned: thread.pinnedAt ? "false" : "true" }}>
            {thread.pinnedAt ? "Unpin" : "Pin"}
          </Act>
        )}
      </div>
      {settling && !thread.settledAt && (
        <ActionForm
          intent="settle"
          label="Settle it as"
          answer={null}
          sends={{ pieceId: page.row.id, ...on, settled: "true" }}
          className="mt-1 flex flex-wrap gap-1.5"
        >
          {SETTLEMENTS.map((outcome, i) => (
            <Button key={outcome} name="outcome" value={outcome} autoFocus={i === 0}>
              {SETTLEMENT_WORDS[outcome]}
            </Button>
          ))}
          <Button type="button" look="quiet" onClick={() => setSettling(false)}>
            Leave
          </Button>
        </ActionForm>
      )}
      {replying && (
        <ActionForm
          intent="reply"
          label="Reply"
          answer={answer}
          sends={{ ...carried(page), ...on }}
          empties
          className="mt-1 space-y-1"
        >
          <WordsArea names={namesOf(page)} label="Your reply" name="body" rows={2} autoFocus />
          <p className="flex gap-2">
            <Button data-main="">Reply</Button>
            <Button type="button" look="quiet" onClick={() => setReplying(false)}>
              Leave
            </Button>
          </p>
        </ActionForm>
      )}
    </div>
  );
}

import { useEffect, useRef, useState } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { addressOf } from "#app/views/text/address.ts";
import { When } from "#app/views/time/clock.tsx";
import { SETTLEMENT_WORDS } from "#core/remarks/thread.ts";
import type { Block } from "#core/text/block.ts";
import { wordsToHtml } from "#core/text/html.ts";
import { carried } from "../framed.tsx";
import type { PiecePage } from "../page.ts";
import { Acts, Own } from "./acts.tsx";
import { type CardProps, type Thread, useRemarks } from "./remarks.ts";
import { namesOf, WordsArea } from "./words.tsx";

/** A remark with what was answered, and what one may do with it. */
export function Card({ page, thread, viewer, answer: last, folded }: CardProps) {
  const { chosen, choose, acted } = useRemarks();
  const answer = acted.current === thread.id ? last : null;
  const [rewording, setRewording] = useState<string | null>(null);
  const card = useRef<HTMLDivElement>(null);
  const state = thread.comments.map(({ id, editedAt }) => `${id} ${editedAt}`).join();
  const heard = useRef(state);
  useEffect(() => {
    if (heard.current === state) return;
    heard.current = state;
    setRewording(null);
    // What was said stands there now: the keyboard stays with it.
    if (document.activeElement === document.body) card.current?.querySelector("button")?.focus();
  });
  const here = chosen === thread.id;
  const { comments, settledAt, sentAt } = thread;
  const said = comments[0];
  const edge = settledAt ? "border-track text-rail" : here ? "border-blue bg-wash text-ink" : "border-yellow";
  return (
    <div
      ref={card}
      role="note"
      data-card={thread.id}
      onSubmitCapture={() => {
        acted.current = thread.id;
      }}
      aria-label={`${thread.author} ${thread.proposal ? "proposes" : "says"}: ${said?.body ?? ""}`.slice(0, 120)}
      className={`border-l-3 py-1 pl-3 pr-1 text-13 ${edge}`}
    >
      <Button
        look="bare"
        type="button"
        aria-expanded={!folded}
        onClick={() => choose(here ? null : thread.id)}
        className="block w-full text-left"
      >
        <b className="font-semibold">{thread.author}</b>{" "}
        <span className="text-rail">{[...aboutOf(page, thread), ""].join(" · ")}</span>
        <span className="text-rail">
          <When at={thread.at} />
        </span>
        {folded && <span className="block truncate">{thread.proposal ? sayProposal(thread) : said?.body}</span>}
      </Button>
      {!folded && (
        <>
          <Quoted thread={thread} />
          {thread.proposal && thread.madeOn !== null && <Wordings old={thread.madeOn} now={thread.proposal} />}
          {comments.map((comment, i) => (
            <Said
              key={comment.id}
              page={page}
              comment={comment}
              first={i === 0}
              own={comment.authorId === viewer && page.commentable}
              rewording={rewording === comment.id}
              reword={setRewording}
              answer={answer}
            />
          ))}
          {settledAt && (
            <p className="text-12">
              {thread.outcome ? SETTLEMENT_WORDS[thread.outcome] : "settled"}
              {thread.settledBy && `, ${thread.settledBy}`} <When at={settledAt} />
            </p>
          )}
          <Acts
            key={comments.length}
            page={page}
            thread={thread}
            viewer={viewer}
            answer={answer}
            kept={sentAt === null}
            reword={setRewording}
          />
        </>
      )}
    </div>
  );
}

const sayProposal = ({ proposal }: Thread) =>
  proposal?.length ? `→ ${proposal.map((word) => word.text ?? " ").join("")}` : "→ without these words";

/** What sort of remark it is and what it is on, in a few words. */
function aboutOf(page: PiecePage, thread: Thread): string[] {
  const { field, anchor, picture, kind, pinnedAt, sentAt } = thread;
  const on = anchor
    ? anchor.gone && "its words are gone"
    : picture
      ? "on a picture"
      : field &&
        `on ${field === "title" ? "Title" : (page.kind.fields.find(({ key }) => key === field)?.name ?? field)}`;
  const proposes = thread.proposal && "proposes wording";
  return [pinnedAt && "pinned", sentAt === null && "kept back", proposes, kind, on].flatMap((word) => word || []);
}

/** The words a remark was made on, where they are gone or read otherwise now. */
function Quoted({ thread: { anchor, madeOn, proposal } }: { thread: Thread }) {
  if (!anchor || madeOn === null || (!anchor.gone && anchor.exact === madeOn)) return null;
  return (
    <p className="text-rail">
      {anchor.gone ? "Gone from the text: " : "Said of: "}“{madeOn}”
      {proposal &&
        !anchor.gone &&
        ` These words changed meanwhile to “${anchor.exact}”; the wording no longer fits as it is.`}
    </p>
  );
}

/** Old and new wording, one above the other. */
function Wordings({ old, now }: { old: string; now: Block[] }) {
  return (
    <dl className="my-1 grid grid-cols-[auto_1fr] gap-x-2">
      <dt className="text-rail">now</dt>
      <dd className="break-words line-through decoration-rail">{old}</dd>
      <dt className="text-rail">then</dt>
      {now.length === 0 ? (
        <dd>without these words</dd>
      ) : (
        <dd
          className="break-words font-semibold"
          // biome-ignore lint/security/noDangerouslySetInnerHtml: our own renderer, which escapes everything
          dangerouslySetInnerHTML={{ __html: wordsToHtml(now, addressOf) }}
        />
      )}
    </dl>
  );
}

type Comment = Thread["comments"][number];

function Said({
  page,
  comment,
  first,
  own,
  rewording,
  reword,
  answer,
}: {
  page: PiecePage;
  comment: Comment;
  first: boolean;
  /** Whether it is the viewer's, to be changed or taken back. */
  own: boolean;
  rewording: boolean;
  reword(id: string | null): void;
  answer: FormAnswer | null | undefined;
}) {
  if (comment.takenBackAt) return <p className="text-rail italic">{first ? "" : `${comment.author}: `}taken back</p>;
  if (comment.body === "") return null;
  if (rewording)
    return (
      <ActionForm
        intent="reword"
        label="Change your words"
        answer={answer}
        sends={{ ...carried(page), commentId: comment.id }}
        className="my-1 space-y-1"
      >
        <WordsArea
          names={namesOf(page)}
          label="Your words"
          name="body"
          rows={3}
          defaultValue={comment.body}
          autoFocus
        />
        <p className="flex gap-2">
          <Button data-main="">Change</Button>
          <Button type="button" look="quiet" onClick={() => reword(null)}>
            Leave
          </Button>
        </p>
      </ActionForm>
    );
  return (
    <div className={first ? "" : "mt-1 pl-3"}>
      <p className="whitespace-pre-line break-words">
        {!first && <b className="font-semibold">{comment.author} </b>}
        {comment.body}
        {comment.editedAt && (
          <span className="text-12 text-rail">
            {" "}
            (changed <When at={comment.editedAt} />)
          </span>
        )}
      </p>
      {own && !first && (
        <span className="flex flex-wrap gap-x-3 gap-y-1">
          <Own page={page} comment={comment} reword={reword} />
        </span>
      )}
    </div>
  );
}

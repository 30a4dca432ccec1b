import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Status } from "#app/ui/message.tsx";
import { BECAME } from "#core/intake/item.ts";
import type { loader } from "../../routes/intake-like.ts";
import { type IntakeAnswer, useWith } from "./data.ts";

type Like = Awaited<ReturnType<typeof loader>>;

/** It is asked what is like an idea once typing rests this long, in milliseconds. */
const REST = 300;
/** With fewer letters nothing is asked. */
const ENOUGH = 6;

/** An idea in a line; while it is typed, what there was like it. */
export function NoteIdea({ answer }: { answer: IntakeAnswer }) {
  const [words] = useSearchParams();
  const begun = words.get("new") ?? "";
  const [title, setTitle] = useState(begun);
  const busy = useBusy("note");
  const to = useWith();
  const like = useLike(title);
  const noted = answer?.intent === "note" && answer.noted ? answer.noted : null;
  useEffect(() => {
    if (noted) setTitle("");
  }, [noted]);
  useEffect(() => setTitle(begun), [begun]);
  return (
    <ActionForm intent="note" answer={answer} className="mt-4 max-w-160" label="Note an idea">
      <div className="flex items-end gap-2">
        <div className="grow">
          <TextField
            key={begun}
            label="An idea, in a line"
            name="title"
            maxLength={200}
            required
            value={title}
            autoFocus={begun !== ""}
            onChange={(event) => setTitle(event.target.value)}
          />
        </div>
        <Button busy={busy}>Note it</Button>
      </div>
      {noted && title === "" && (
        <Status className="mt-1">
          It is noted.{" "}
          <Link
            to={to({ item: noted, sort: "", show: "", mine: "" })}
            className="text-blue underline underline-offset-3"
          >
            Outline it
          </Link>
        </Status>
      )}
      {title !== "" && <LikeIt like={like} />}
    </ActionForm>
  );
}

/** What goes with an idea: what came in before with what became of it, and pieces there are. */
export function LikeIt({
  like,
  says = "Like it",
}: {
  like: Pick<Like, "items" | "pieces"> | null;
  /** Why they go with it. */
  says?: string;
}) {
  const to = useWith();
  if (!like || like.items.length + like.pieces.length === 0) return null;
  return (
    <div className="mt-2 text-13" role="status">
      <p className="text-rail">{says}:</p>
      <ul aria-label={says}>
        {like.items.map(({ id, title, standing, reason }) => (
          <li key={id} className="break-words">
            <Link
              to={to({ item: id, show: standing === "declined" ? "done" : "" })}
              className="text-blue hover:underline"
            >
              {title}
            </Link>{" "}
            <span className="text-rail">
              {BECAME[standing]}
              {reason && `: ${reason}`}
            </span>
          </li>
        ))}
        {like.pieces.map(({ slug, title }) => (
          <li key={slug} className="break-words">
            <Link to={`/pieces/${slug}`} className="text-blue hover:underline">
              {title}
            </Link>{" "}
            <span className="text-rail">is a piece</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function useLike(words: string): Like | null {
  const [like, setLike] = useState<Like | null>(null);
  const enough = words.trim().length >= ENOUGH;
  useEffect(() => {
    if (!enough) return setLike(null);
    const asking = new AbortController();
    const timer = setTimeout(
      () =>
        fetch(`/intake/like?words=${encodeURIComponent(words)}`, { signal: asking.signal })
          .then((response) => (response.ok ? response.json() : null))
          .then(setLike)
          .catch(() => undefined),
      REST,
    );
    return () => {
      clearTimeout(timer);
      asking.abort();
    };
  }, [words, enough]);
  return like;
}

import { useEffect, useRef } from "react";
import { useSearchParams } from "react-router";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, ButtonLink, TextLink } from "#app/ui/button.tsx";
import { Aside, Hint } from "#app/ui/message.tsx";
import { Due, When } from "#app/views/time/clock.tsx";
import { BECAME, type IntakeAct, whyNot } from "#core/intake/item.ts";
import { Act, type ActName } from "./acts.tsx";
import { Changes } from "./changes.tsx";
import { type Chosen, type IntakeAnswer, type IntakeData, useWith } from "./data.ts";
import { Idea } from "./idea.tsx";

/** What is done with something that came in, by its word in the address: its name, its key, and who may at all. */
const ACTS: readonly { name: ActName; act: IntakeAct; says: string; keys: string; needs?(item: Chosen): boolean }[] = [
  { name: "take", act: "take", says: "Take it up", keys: "t" },
  { name: "answer", act: "answer", says: "Answer", keys: "t", needs: (item) => item.requesterId !== null },
  { name: "ask", act: "ask", says: "Ask back", keys: "b", needs: (item) => item.requesterId !== null },
  { name: "join", act: "join", says: "Join to a piece", keys: "p" },
  { name: "give", act: "give", says: "Give to", keys: "g" },
  { name: "amend", act: "amend", says: "Call it otherwise", keys: "e" },
  { name: "decline", act: "decline", says: "Decline", keys: "n" },
];

/** One thing that came in: what it is, what was said of it, and what can be done. */
export function ItemPanel({
  item,
  page,
  answer,
  next,
}: {
  item: Chosen;
  page: IntakeData;
  answer: IntakeAnswer;
  /** What is shown once this is settled. */
  next: string;
}) {
  const [words] = useSearchParams();
  const doing = ACTS.find((one) => one.name === words.get("do"));
  const open = ACTS.filter(({ act, needs }) => item.mayJudge && whyNot(act, item) === null && (needs?.(item) ?? true));
  const to = useWith();
  // What was settled gave way to this: the keyboard comes along.
  const named = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    if (document.activeElement === document.body) named.current?.focus({ preventScroll: true });
  }, []);
  return (
    <div className="space-y-4">
      <div>
        <h3 ref={named} tabIndex={-1} className="wrap-anywhere text-19! font-semibold outline-none">
          {item.title}
        </h3>
        <Facts item={item} />
      </div>
      {item.standing === "declined" && <Aside>{item.reason}</Aside>}
      {open.length > 0 && (
        <div className="flex flex-wrap gap-2">
          {item.sort === "report" && whyNot("correct", item) === null && <Correct item={item} answer={answer} />}
          {open.map(({ name, says, keys }, i) => (
            <ButtonLink
              key={name}
              to={to({ do: name })}
              preventScrollReset
              data-key={keys}
              title={keys}
              look={i === 0 && item.sort !== "report" ? "go" : "plain"}
            >
              {name === "decline" && item.sort === "idea" ? "Set aside" : says}
            </ButtonLink>
          ))}
        </div>
      )}
      {doing && open.includes(doing) && (
        <Act key={doing.name} name={doing.name} item={item} page={page} answer={answer} next={next} />
      )}
      {item.standing === "declined" && item.mayJudge && <Reopen item={item} answer={answer} />}
      {item.missing.length > 0 && whyNot("take", item) === null && (
        <Hint>Missing, and asked for already: {item.missing.join("; ")}.</Hint>
      )}
      {item.quote && (
        <blockquote className="break-words border-l-2 border-yellow pl-3 font-serif text-15">{item.quote}</blockquote>
      )}
      {item.sort === "idea" ? (
        <Idea item={item} page={page} answer={answer} />
      ) : (
        item.words && <p className="whitespace-pre-line break-words">{item.words}</p>
      )}
      <Answered answered={item.answered} />
      <Along item={item} />
      <Said said={item.said} />
    </div>
  );
}

/** Where it comes from, until when it is to be answered, what became of it. */
function Facts({ item }: { item: Chosen }) {
  const settled = !["waiting", "asked"].includes(item.standing);
  return (
    <div className="mt-1 space-y-0.5 text-13 text-rail">
      <p className="break-words">
        {item.form ? `${item.form}, from` : "From"} {item.from ?? (item.sort === "material" ? "a feed" : "a reader")}
        {item.email && ` (${item.email})`}, <When at={item.at} />
        {item.section && ` · ${item.section}`}
      </p>
      {item.about && (
        <p>
          About <TextLink to={`/pieces/${item.about.slug}`}>{item.about.title}</TextLink>
        </p>
      )}
      {item.sender && <p>It came by mail: nobody proved whom it is from.</p>}
      {item.source && (
        <p className="truncate">
          Stands at{" "}
          <a
            href={item.source}
            rel="noreferrer nofollow"
            target="_blank"
            className="text-blue underline underline-offset-3"
          >
            {item.source}
          </a>
        </p>
      )}
      {item.wishedAt !== null && (
        <p>
          Wished for <When at={item.wishedAt} />
        </p>
      )}
      {settled ? (
        <p className="text-ink">
          It {BECAME[item.standing]}
          {item.settledAt !== null && (
            <>
              , <When at={item.settledAt} />
            </>
          )}
          {item.slug && (
            <>
              : <TextLink to={`/pieces/${item.slug}`}>{item.piece}</TextLink>
            </>
          )}
        </p>
      ) : (
        item.dueAt !== null && <Due at={item.dueAt} />
      )}
    </div>
  );
}

/** Takes a reader's word for it, and leads to the piece to be corrected. */
function Correct({ item, answer }: { item: Chosen; answer: IntakeAnswer }) {
  const busy = useBusy("correct");
  return (
    <ActionForm
      intent="correct"
      answer={answer}
      sends={{ itemId: item.id, revision: item.revision }}
      className="contents"
    >
      <Button look="go" busy={busy} title="They are thanked when the correction is out.">
        Correct the piece
      </Button>
    </ActionForm>
  );
}

function Reopen({ item, answer }: { item: Chosen; answer: IntakeAnswer }) {
  const busy = useBusy("reopen");
  return (
    <ActionForm intent="reopen" answer={answer} sends={{ itemId: item.id, revision: item.revision }}>
      <Button busy={busy}>Take it up again</Button>
    </ActionForm>
  );
}

/** The files that came along. */
function Along({ item: { id, files } }: { item: Chosen }) {
  if (files.length === 0) return null;
  return (
    <ul aria-label="Files" className="text-13">
      {files.map((one) => (
        <li key={one.id} className="break-words py-0.5">
          <a
            href={`/intake/${id}/files/${one.id}`}
            target="_blank"
            rel="noreferrer"
            className="text-blue underline underline-offset-3"
          >
            {one.name}
          </a>{" "}
          <span className="text-rail">{Math.max(1, Math.round(one.bytes / 1000))} kB</span>
        </li>
      ))}
    </ul>
  );
}

/** What a form was filled in with. */
function Answered({ answered }: { answered: Chosen["answered"] }) {
  if (answered.length === 0) return null;
  return (
    <dl className="border-t border-ink text-13">
      {answered.map(({ name, words }) => (
        <div key={name} className="border-b border-rule py-1.5">
          <dt className="text-rail">{name}</dt>
          <dd className={`whitespace-pre-line break-words ${words ? "" : "text-rail"}`}>{words || "left empty"}</dd>
        </div>
      ))}
    </dl>
  );
}

const WHO: Record<Chosen["said"][number]["sort"], string> = {
  question: "asked",
  answer: "Its sender answered",
  amendment: "Its sender amended it",
  check: "Elenco asked, since it was missing",
};

/** What was asked, answered and amended, in order. */
function Said({ said }: { said: Chosen["said"] }) {
  if (said.length === 0) return null;
  return (
    <section aria-label="What was said">
      <ul className="space-y-2 text-13">
        {said.map(({ id, sort, by, words, changes, at }) => (
          <li key={id} className="border-l border-rule pl-3">
            <span className="text-rail">
              {sort === "question" ? `${by ?? "Somebody"} ${WHO.question}` : WHO[sort]}, <When at={at} />
            </span>
            {changes ? <Changes changes={changes} /> : <p className="whitespace-pre-line break-words">{words}</p>}
          </li>
        ))}
      </ul>
    </section>
  );
}

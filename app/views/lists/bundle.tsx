import { useEffect } from "react";
import { Link, useRevalidator, useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, ButtonLink, TextLink } from "#app/ui/button.tsx";
import { Message, Progress, Status } from "#app/ui/message.tsx";
import { Page } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { useLastList } from "#app/views/frame/arrival.ts";
import { useOwner } from "#app/views/frame/kept-here.ts";
import { useClock } from "#app/views/time/clock.tsx";
import { capital, counted } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/together-bundle.ts";
import { keepChoice } from "./chosen.ts";
import { sayDoing } from "./doing-words.ts";
import { EachItsOwn } from "./each-its-own.tsx";

type Data = Route.ComponentProps["loaderData"];

/** How often it is looked how far it has come, in milliseconds. */
const LOOKS = 700;

const STANDS: Record<Data["items"][number]["status"], string> = {
  blank: "left out",
  waiting: "…",
  would: "would go",
  refused: "would not",
  done: "done",
  failed: "not done",
};

/** One thing to many pieces: what would come of it, the doing, and what became of each. */
export function BundleView({ page, answer }: { page: Data; answer: FormAnswer | null }) {
  const { counts, started, left, total } = page;
  const back = useLastList();
  const { now, zone } = useClock();
  useGoingOn(left > 0);
  useFailedChosen(page);
  const what = sayDoing(page.doing, (id) => page.names[id] ?? "somebody", zone, now);
  return (
    <Page
      back={back}
      title={
        <>
          {what}: {counted(total, "piece")}
        </>
      }
    >
      <div className="mt-2 space-y-3">
        {answer?.refusal && answer.intent !== "fill" && <Message>{answer.refusal.sentence}</Message>}
        {left > 0 && (
          <Progress
            says={
              started
                ? `${total - left} of ${total} done; you may leave this page.`
                : `${total - left} of ${total} looked at`
            }
            done={total - left}
            all={total}
          />
        )}
        {left === 0 && counts.would + counts.refused + counts.done + counts.failed > 0 && <Amount page={page} />}
        <div className="flex flex-wrap items-center gap-3">
          {!started && left === 0 && counts.would > 0 && <Do page={page} />}
          {page.undoable && <Undo />}
          {left === 0 && <ButtonLink to={back.to}>{started ? "Back to the list" : "Leave it"}</ButtonLink>}
        </div>
      </div>
      {page.table && left === 0 && <EachItsOwn page={page} answer={answer} />}
      <Narrow counts={counts} started={started} />
      <Rows aria-label="What becomes of each" className="mt-2 border-t border-ink empty:hidden">
        {page.items
          .filter((one) => one.status !== "blank")
          .map(({ position, slug, title, status, said }) => (
            <Row
              key={position}
              className="grid gap-x-4 py-1.5 text-13 sm:grid-cols-[minmax(0,260px)_84px_minmax(0,1fr)]"
            >
              <Link to={`/pieces/${slug}`} className="truncate font-semibold hover:text-blue">
                {title}
              </Link>
              <span className={status === "refused" || status === "failed" ? "font-semibold text-red" : ""}>
                {STANDS[status]}
              </span>
              <span className="break-words text-rail">{said.join(" · ")}</span>
            </Row>
          ))}
      </Rows>
      {page.further !== null && <Further after={page.further} />}
    </Page>
  );
}

/** In one sentence, what would happen or what happened. */
function Amount({ page: { counts, started, failed } }: { page: Data }) {
  if (!started)
    return (
      <Status>
        {counts.would === 0 ? "None of them would go." : `${capital(counted(counts.would, "piece"))} would go.`}
        {counts.refused > 0 && ` ${capital(counted(counts.refused, "piece"))} would not; below is why.`} Nothing is done
        yet.
      </Status>
    );
  return (
    <Status className="font-semibold">
      {capital(counted(counts.done, "piece"))} done.
      {failed.length > 0 && ` ${capital(counted(failed.length, "piece"))} not: chosen still, and below is why.`}
    </Status>
  );
}

function Do({ page }: { page: Data }) {
  const busy = useBusy("do");
  return (
    <ActionForm intent="do" label="Do it" answer={null} className="contents">
      <Button look="go" busy={busy} autoFocus>
        Do it for {page.counts.would === 1 ? "this one" : `these ${page.counts.would}`}
      </Button>
    </ActionForm>
  );
}

function Undo() {
  const busy = useBusy("undo");
  return (
    <ActionForm intent="undo" label="Take it back" answer={null} className="contents">
      <Button busy={busy}>Take it back for all that were done</Button>
    </ActionForm>
  );
}

/** Only those that stand in one way. */
function Narrow({ counts, started }: Pick<Data, "counts" | "started">) {
  const [words] = useSearchParams();
  const shown = started ? (["done", "failed", "refused"] as const) : (["would", "refused"] as const);
  const there = shown.filter((one) => counts[one] > 0);
  if (there.length < 2) return null;
  return (
    <nav aria-label="Which are shown" className="mt-4 flex gap-4 text-13">
      <TextLink to="?" preventScrollReset aria-current={words.get("show") === null ? "true" : undefined}>
        all
      </TextLink>
      {there.map((one) => (
        <TextLink
          key={one}
          to={`?show=${one}`}
          preventScrollReset
          aria-current={words.get("show") === one ? "true" : undefined}
        >
          {STANDS[one]}: {counts[one]}
        </TextLink>
      ))}
    </nav>
  );
}

function Further({ after }: { after: number }) {
  const [words] = useSearchParams();
  const next = new URLSearchParams(words);
  next.set("after", String(after));
  return (
    <p className="mt-3 text-13">
      <TextLink to={`?${next}`}>Further pieces</TextLink>
    </p>
  );
}

/** While something is left it is looked again and again. */
function useGoingOn(going: boolean): void {
  const { revalidate, state } = useRevalidator();
  useEffect(() => {
    if (!going || state !== "idle") return;
    const timer = setTimeout(revalidate, LOOKS);
    return () => clearTimeout(timer);
  }, [going, state, revalidate]);
}

/** Once all is done only what failed is chosen still. */
function useFailedChosen({ id, started, left, failed }: Data): void {
  const owner = useOwner();
  useEffect(() => {
    if (!started || left > 0) return;
    const heard = `elenco:together:${owner}`;
    if (sessionStorage.getItem(heard) === id) return;
    sessionStorage.setItem(heard, id);
    keepChoice(owner, { ids: failed });
  }, [owner, id, started, left, failed]);
}

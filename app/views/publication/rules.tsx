import { useState } from "react";
import { Link } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, ButtonLink, TextLink } from "#app/ui/button.tsx";
import { FileDrop } from "#app/ui/file-drop.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Aside, Empty, Hint, Message, Status } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { When } from "#app/views/time/clock.tsx";
import { namesOf } from "#core/rules/names.ts";
import { sayRule } from "#core/rules/say.ts";
import { counted } from "#core/words/say.ts";
import { RuleForm } from "./rule-form.tsx";
import type { RulesData } from "./rules-data.ts";

type Answer = (FormAnswer & { count?: number }) | null;

/** What always follows from something: the rules as sentences, each with what it did, and one of them to be changed. */
export function RulesView({ page, answer }: { page: RulesData; answer: Answer }) {
  const { rules, chosen, isNew, choices } = page;
  const names = namesOf(choices);
  if (chosen || isNew)
    return (
      <Page
        back={{ to: "/publication/rules", name: "Rules" }}
        title={chosen?.name ?? "A new rule"}
        about={chosen ? `Made by ${chosen.maker}, within what they may do.` : "It does no more than you may."}
      >
        {chosen && <Standing rule={chosen} answer={answer} page={page} />}
        <RuleForm key={`${chosen?.id} ${chosen?.revision}`} page={page} answer={answer} />
        {page.callSecret !== null && <Calls page={page} />}
        {chosen && <Past page={page} />}
        {chosen && <Away id={chosen.id} answer={answer} />}
      </Page>
    );
  return (
    <Page
      title="Rules"
      about="What always follows from something happens by itself, once, and within what whoever made the rule may do."
      act={<ButtonLink to="?rule=">A new rule</ButtonLink>}
    >
      {rules.length === 0 ? (
        <Empty act={<ButtonLink to="?rule=">Make the first</ButtonLink>}>
          No rule stands yet. One reads as a sentence: when a piece arrives somewhere, if it is urgent, then tell
          somebody.
        </Empty>
      ) : (
        <Rows aria-label="Rules" className="mt-4 max-w-220 border-t border-ink">
          {rules.map((rule) => (
            <Row
              key={rule.id}
              className="grid grid-cols-[minmax(0,1fr)_minmax(0,120px)] items-baseline gap-x-4 py-1.5 sm:grid-cols-[minmax(0,1fr)_200px]"
            >
              <Link to={`?rule=${rule.key}`} className="truncate font-semibold hover:text-blue">
                {rule.name}
              </Link>
              <span className={`text-right text-13 ${rule.on ? "" : "text-rail"}`}>
                {!rule.on ? "off" : rule.makerIsHere ? "on" : <b className="text-red">its maker has left</b>}
              </span>
              <span className="text-13 text-rail">{sayRule(rule, names)}</span>
              <span className="text-right text-13 text-rail">
                {rule.acts ? (
                  <>
                    {counted(rule.acts.count, "time")} in 30 days, <When at={rule.acts.last} />
                  </>
                ) : (
                  rule.on && "not yet"
                )}
              </span>
            </Row>
          ))}
        </Rows>
      )}
      <Fold summary="To and from a file" className="mt-6 max-w-120" open={answer?.intent === "bring"}>
        <p className="mt-2 text-13">
          <a href="/publication/rules/file" download className="text-blue underline underline-offset-3">
            All rules as a file
          </a>{" "}
          <span className="text-rail">(elenco.rules/1, JSON)</span>
        </p>
        <BringIn answer={answer} />
      </Fold>
    </Page>
  );
}

function BringIn({ answer }: { answer: Answer }) {
  const busy = useBusy("bring");
  return (
    <ActionForm intent="bring" answer={answer} encType="multipart/form-data" className="mt-3 space-y-3" empties>
      <FileDrop label="Bring rules in" name="file" accept=".json,application/json" hint="They come in switched off." />
      <Button busy={busy}>{busy ? "Reading …" : "Bring them in"}</Button>
      {answer?.intent === "bring" && answer.count !== undefined && (
        <Status>{counted(answer.count, "rule")} came in, switched off.</Status>
      )}
    </ActionForm>
  );
}

/** Whether it acts, what keeps it from that, and the switch. */
function Standing({ rule, answer, page }: { rule: NonNullable<RulesData["chosen"]>; answer: Answer; page: RulesData }) {
  const busy = useBusy("switch");
  const mine = page.findings.filter(({ at, witness }) => at?.rule === rule.key || witness?.rules.includes(rule.key));
  const stops = rule.on && !rule.makerIsHere;
  return (
    <div className="mt-3 max-w-220 space-y-3">
      {stops && <Message>{`${rule.maker} has left: it does nothing until somebody switches it on anew.`}</Message>}
      {rule.on && mine.length > 0 && (
        <Message more={mine.slice(1).map((one) => one.message)}>{mine[0]?.message}</Message>
      )}
      <ActionForm
        intent="switch"
        answer={answer}
        sends={{ id: rule.id, on: rule.on && !stops ? "false" : "true" }}
        className="flex flex-wrap items-center gap-3"
      >
        <p className="font-semibold">{rule.on ? "It is on." : "It is off."}</p>
        <Button look={rule.on && !stops ? "plain" : "go"} busy={busy}>
          {rule.on && !stops ? "Switch it off" : "Switch it on"}
        </Button>
        <TextLink to={`?rule=${rule.key}&try`} preventScrollReset>
          Try it on the last 30 days
        </TextLink>
      </ActionForm>
      {page.trial && <Tried trial={page.trial} />}
    </div>
  );
}

/** What it would have done; nothing was. */
function Tried({ trial: { days, count, cut, acts } }: { trial: NonNullable<RulesData["trial"]> }) {
  return (
    <Part title={`In the last ${days} days`} role="status" className="mt-4">
      <p className="mt-2">
        {count === 0 ? "It would not have acted." : `It would have acted ${counted(count, "time")}.`}
        {cut && " That is among the latest; there was more on the record than is looked at."}
      </p>
      {acts.length > 0 && (
        <ul aria-label="When it would have acted">
          {acts.map((one) => (
            <li key={`${one.to} ${one.at}`} className="flex justify-between gap-4 border-b border-rule py-1 text-13">
              <Link to={one.to} className="truncate font-semibold hover:text-blue">
                {one.title}
              </Link>
              <When at={one.at} />
            </li>
          ))}
        </ul>
      )}
      <Hint>Nothing was changed. What it asks of a piece is asked of it as it is now.</Hint>
    </Part>
  );
}

/** What it did, and what it could not. */
function Past({ page: { acted } }: { page: RulesData }) {
  return (
    <Part title="What it did" aria-label="What it did" className="mt-8 max-w-220">
      {acted.length === 0 && <Aside className="mt-2">Nothing yet.</Aside>}
      <ul>
        {acted.map((one) => (
          <li key={`${one.to} ${one.at}`} className="border-b border-rule py-1.5 text-13">
            <span className="flex justify-between gap-4">
              <Link to={one.to} className="truncate font-semibold hover:text-blue">
                {one.title}
              </Link>
              <When at={one.at} />
            </span>
            <ul className="text-rail">
              {one.did.map(({ said, refused }) => (
                <li key={said} className={refused === null ? "" : "text-red"}>
                  {said}
                  {refused !== null && `: ${refused}`}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </Part>
  );
}

const CALLED: Record<RulesData["calls"][number]["status"], string> = {
  waiting: "is tried again",
  taken: "was taken",
  "given-up": "was given up",
};

/** The outside services it called, what came of that, and how they know that it was us. */
function Calls({ page: { calls, callSecret } }: { page: RulesData }) {
  return (
    <Part title="Whom it called" className="mt-8 max-w-220">
      {calls.length === 0 && <Aside className="mt-2">Nobody yet.</Aside>}
      <ul aria-label="Whom it called">
        {calls.map(({ id, at, url, status, attempts, answer, title, slug }) => (
          <li key={id} className="border-b border-rule py-1.5 text-13">
            <span className="flex flex-wrap justify-between gap-x-4">
              <Link to={`/pieces/${slug}`} className="min-w-0 truncate font-semibold hover:text-blue">
                {title}
              </Link>
              <When at={at} />
            </span>
            <span className={`block wrap-anywhere ${status === "given-up" ? "text-red" : "text-rail"}`}>
              {url} {CALLED[status]}, asked {attempts === 1 ? "once" : `${attempts} times`}
              {answer && `: ${answer}`}
            </span>
          </li>
        ))}
      </ul>
      <Fold summary="How it is known that it was us" className="mt-2">
        <p className="mt-1 text-13">
          What is sent is signed: <code>Elenco-Signature</code> is the HMAC-SHA-256 of the words of{" "}
          <code>Elenco-Timestamp</code>, a full stop and the body, with this secret:
        </p>
        <p className="mt-1 wrap-anywhere text-13">
          <code>{callSecret}</code>
        </p>
      </Fold>
    </Part>
  );
}

function Away({ id, answer }: { id: string; answer: Answer }) {
  const [sure, setSure] = useState(false);
  const busy = useBusy("delete");
  return (
    <Part title="Do away with it" className="mt-8 max-w-220">
      {sure ? (
        <ActionForm intent="delete" answer={answer} sends={{ id }} className="mt-2 space-y-2">
          <Aside>What it did stays; the list of it goes with the rule.</Aside>
          <Button busy={busy} autoFocus>
            Do away with it
          </Button>
        </ActionForm>
      ) : (
        <p className="mt-2">
          <Button look="quiet" type="button" className="-ml-3" onClick={() => setSure(true)}>
            Do away with this rule
          </Button>
        </p>
      )}
    </Part>
  );
}

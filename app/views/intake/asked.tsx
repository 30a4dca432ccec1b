import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { TextArea, TextField } from "#app/ui/field.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Aside, Status } from "#app/ui/message.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { Route } from "../../routes/+types/asked.ts";
import { AnswerFields } from "./answer-fields.tsx";
import { Changes } from "./changes.tsx";
import { MailField } from "./mail-field.tsx";

type Page = Route.ComponentProps["loaderData"];
type Request = Page["requests"][number];
type Answer = (FormAnswer & { typed: Record<string, string> }) | null;

/** All somebody asked for from outside, each with what became of it, what is asked back, and what they may do. */
export function AskedView({ page, answer, prefix }: { page: Page; answer: Answer; prefix: string }) {
  if (!page.who) return <Known answer={answer} />;
  return (
    <>
      <h1>What you asked for</h1>
      <Aside className="mt-1">
        As {page.who.name}, {page.who.email}.
      </Aside>
      {page.requests.length === 0 && <p className="mt-6">Nothing yet.</p>}
      <ul aria-label="Your requests" className="mt-6 space-y-10">
        {page.requests.map((request) => (
          <li key={request.id}>
            <OneRequest
              request={request}
              answer={answer?.typed.itemId === request.id ? answer : null}
              prefix={prefix}
            />
          </li>
        ))}
      </ul>
    </>
  );
}

/** For a browser nobody is known by: a link is sent to whoever says their address. */
function Known({ answer }: { answer: Answer }) {
  const sent = answer?.intent === "link" && !answer.refusal && Object.keys(answer.fields).length === 0;
  return (
    <>
      <h1>What you asked for</h1>
      {answer?.refusal && answer.intent !== "link" && <p className="mt-4 text-red">{answer.refusal.sentence}</p>}
      {sent ? (
        <Status className="mt-4">
          If you asked us for something from {answer?.typed.email}, a link to it is on its way there.
        </Status>
      ) : (
        <ActionForm intent="link" answer={answer} className="mt-4 max-w-96 space-y-4">
          <p>This browser is not known yet. Say your address, and we send you a link.</p>
          <MailField required defaultValue={answer?.typed.email ?? ""} />
          <Button look="go">Send me a link</Button>
        </ActionForm>
      )}
    </>
  );
}

function OneRequest({ request, answer, prefix }: { request: Request; answer: Answer; prefix: string }) {
  const { fate, may } = request;
  const typed = answer?.typed ?? {};
  const filled = Object.fromEntries(Object.entries(request.answers).map(([key, words]) => [prefix + key, words]));
  const amends = answer?.intent === "amend" && (answer.refusal !== null || Object.keys(answer.fields).length > 0);
  return (
    <article className="border-t border-ink pt-3">
      <h2 className="break-words text-19! font-semibold">{request.title}</h2>
      <Aside>
        Asked for <When at={request.at} />
        {request.wishedAt !== null && (
          <>
            , wished for <When at={request.wishedAt} dateOnly />
          </>
        )}
      </Aside>
      <Strip stops={fate.stops} />
      <p className="mt-2 whitespace-pre-line break-words font-semibold">{fate.sentence}</p>
      {request.words && (
        <p className="mt-2 whitespace-pre-line break-words border-l border-rule pl-3">{request.words}</p>
      )}
      {request.answer && <p className="mt-2 whitespace-pre-line break-words">{request.answer}</p>}
      {request.out && (
        <p className="mt-1">
          <a href={`/read/${request.out.slug}`} className="text-blue underline underline-offset-3">
            {request.out.title}
          </a>
        </p>
      )}
      {may.answer && (
        <ActionForm intent="answer" answer={answer} sends={{ itemId: request.id }} className="mt-3 space-y-3">
          <TextArea
            label="Your answer"
            name="words"
            rows={3}
            maxLength={4000}
            required
            defaultValue={answer?.intent === "answer" ? (typed.words ?? "") : ""}
          />
          <Button look="go">Answer</Button>
        </ActionForm>
      )}
      <Said said={request.said} />
      {may.amend && (
        <Fold summary="Amend it" className="mt-3" open={amends}>
          <ActionForm
            intent="amend"
            answer={answer}
            sends={{ itemId: request.id, revision: request.revision }}
            className="mt-3 space-y-4"
          >
            <TextField
              label="What is it about?"
              name="title"
              required
              maxLength={200}
              defaultValue={amends ? typed.title : request.title}
            />
            <AnswerFields fields={request.fields} prefix={prefix} typed={amends ? typed : filled} />
            <TextField
              label="When would you like it?"
              name="wishedAt"
              maxLength={80}
              defaultValue={amends ? typed.wishedAt : request.wished}
            />
            <Button look="go">Keep it so</Button>
          </ActionForm>
        </Fold>
      )}
      {may.withdraw && (
        <ActionForm intent="withdraw" answer={answer} sends={{ itemId: request.id }} className="mt-3">
          <Button look="quiet" className="-ml-3">
            Take it back
          </Button>
        </ActionForm>
      )}
    </article>
  );
}

/** The way of a request: four stops, the present one marked. */
function Strip({ stops }: { stops: Request["fate"]["stops"] }) {
  return (
    <ol aria-label="Its way" className="mt-3 flex max-w-96">
      {stops.map(({ name, done, here }, i) => (
        <li key={name} aria-current={here ? "step" : undefined} className="relative flex-1 text-13">
          {i < stops.length - 1 && (
            <span className="absolute left-3 right-0 top-[5px] h-0.5 bg-ink" aria-hidden="true" />
          )}
          <span
            aria-hidden="true"
            className={`relative block size-3 rounded-full border-2 ${here ? "border-blue bg-blue" : done ? "border-ink bg-ink" : "border-ink bg-paper"}`}
          />
          <span className={`mt-1 block ${here ? "font-semibold text-blue" : "text-rail"}`}>
            {name}
            {done && !here && <span className="sr-only"> (done)</span>}
          </span>
        </li>
      ))}
    </ol>
  );
}

/** What was said between them and the team. */
function Said({ said }: { said: Request["said"] }) {
  if (said.length === 0) return null;
  return (
    <Fold summary="What was said" className="mt-3">
      <ul className="mt-1 space-y-2 text-13">
        {said.map(({ id, sort, words, changes, at }) => (
          <li key={id}>
            <span className="text-rail">
              {sort === "answer" || sort === "amendment" ? "You" : "We"}, <When at={at} />
            </span>
            {changes ? <Changes changes={changes} /> : <p className="whitespace-pre-line break-words">{words}</p>}
          </li>
        ))}
      </ul>
    </Fold>
  );
}

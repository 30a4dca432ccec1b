import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Choices } from "#app/views/lists/telling.tsx";
import type { Route } from "../../routes/+types/publication-telling.ts";

type Data = Route.ComponentProps["loaderData"];

/** How people are told who chose nothing, and what did not leave. */
export function MessagesView({ page, answer }: { page: Data; answer: FormAnswer | null }) {
  return (
    <Page
      title="Messages"
      about="How people are told who chose nothing themselves. Their own choice counts before this."
    >
      <Choices own={null} publication={page.telling} routes={["mail"]} answer={answer} inherits={false} />
      <Part title="What did not leave">
        {page.stuck.length === 0 ? (
          <Aside>Everything has left that was to leave.</Aside>
        ) : (
          <Rows aria-label="What did not leave">
            {page.stuck.map((one) => (
              <Stuck key={one.id} message={one} answer={answer} />
            ))}
          </Rows>
        )}
      </Part>
    </Page>
  );
}

function Stuck({ message, answer }: { message: Data["stuck"][number]; answer: FormAnswer | null }) {
  const busy = useBusy("again");
  const { id, route, person, recipient, title, status, attempts, reason } = message;
  return (
    <Row className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 py-1.5 text-13">
      <span className="min-w-0">
        <b className="font-semibold">{person ?? recipient}</b>
        <span className="text-rail">
          {" "}
          · {route === "mail" ? "mail" : "channel"}
          {title && ` · ${title}`}
        </span>
        <span className="block break-words text-red">
          {status === "given-up" ? "Given up" : "Not yet"} after {attempts} attempt{attempts === 1 ? "" : "s"}: {reason}
        </span>
      </span>
      <ActionForm
        intent="again"
        label={`Send to ${person ?? recipient}`}
        answer={answer}
        sends={{ messageId: id }}
        className="contents"
      >
        <Button busy={busy} aria-label={`Try again for ${person ?? recipient}`}>
          Try again
        </Button>
      </ActionForm>
    </Row>
  );
}

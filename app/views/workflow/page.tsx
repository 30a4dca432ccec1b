import { Link } from "react-router";
import { ButtonLink } from "#app/ui/button.tsx";
import { Message } from "#app/ui/message.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { Begin, Binding, Line } from "#app/views/workflow/list.tsx";
import type { Route } from "../../routes/+types/workflows.ts";

/** The workflows, and which applies where. */
export function WorkflowsView({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  const { workflows, bindings, pieces } = loaderData;
  const begun = actionData && "begun" in actionData ? actionData.begun : null;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_332px]">
      <div className="min-w-0 px-4 py-5 md:px-6">
        <h1>Workflows</h1>
        {workflows.length === 0 && <p className="mt-4 text-rail">None yet. Begin one beside this.</p>}
        {workflows.map((one) => (
          <Line key={one.id} row={one} />
        ))}
      </div>
      <aside className="space-y-8 border-rule px-4 py-5 lg:border-l">
        <section>
          <h2 className="mb-3 text-15! font-bold">A new workflow</h2>
          {begun && (
            <div className="mb-3">
              <Message more={begun.leftOut}>It was brought in, but not all of it could be used.</Message>
              <ButtonLink look="go" to={`/workflows/${begun.key}`} className="mt-2">
                Open it
              </ButtonLink>
            </div>
          )}
          <Begin {...loaderData} answer={actionData?.intent === "start" ? actionData : null} />
        </section>
        <section>
          <h2 className="mb-2 text-15! font-bold">Where they apply</h2>
          {actionData?.intent === "bind" && actionData.refusal && <Message>{actionData.refusal.sentence}</Message>}
          <ul className="border-t border-ink">
            {bindings
              .filter((one) => one.scope !== "kind")
              .map((one) => (
                <Binding key={one.id} binding={one} workflows={workflows} />
              ))}
          </ul>
          <h3 className="mt-4 mb-1 text-13 font-semibold text-rail">A kind, wherever it is written</h3>
          <ul className="border-t border-rule">
            {bindings
              .filter((one) => one.scope === "kind")
              .map((one) => (
                <Binding key={one.id} binding={one} workflows={workflows} />
              ))}
          </ul>
          {pieces.length > 0 && (
            <>
              <h3 className="mt-4 mb-1 text-13 font-semibold text-rail">A single piece</h3>
              <ul className="border-t border-rule">
                {pieces.map((one) => (
                  <li key={one.slug} className="flex justify-between gap-2 border-b border-rule py-1.5 text-13">
                    <Link to={`/pieces/${one.slug}`} className="truncate hover:text-blue">
                      {one.title}
                    </Link>
                    <span className="shrink-0 text-rail">{one.workflow}</span>
                  </li>
                ))}
              </ul>
            </>
          )}
          <p className="mt-2 text-12 text-rail">
            New pieces begin on the workflow that is nearest: of their kind, their section, the one above, or the
            publication.
          </p>
        </section>
      </aside>
    </div>
  );
}

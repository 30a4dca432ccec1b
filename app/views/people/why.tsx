import { Form, Link, useNavigation, useSearchParams } from "react-router";
import { Button } from "#app/ui/button.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { PieceField } from "#app/views/people/grant-fields.tsx";
import type { Route } from "../../routes/+types/why.ts";

/** Why somebody may, or may not, do something. */
export function WhyView({ loaderData }: Route.ComponentProps) {
  const { person, action, slug, people, actions, title, answer, unknown, everyone } = loaderData;
  const [words] = useSearchParams();
  const busy = useNavigation().state === "loading";
  return (
    <div className="grid min-h-full grid-cols-[minmax(0,1fr)] lg:grid-cols-[332px_minmax(0,1fr)]">
      <div className="px-4 py-5 md:px-6">
        <h1 className="mb-4">Why, why not</h1>
        <Form key={words.toString()} className="space-y-3">
          <SelectField label="May" name="person" defaultValue={person}>
            {people.map((one) => (
              <Option key={one.key} value={one.key}>
                {one.name}
              </Option>
            ))}
          </SelectField>
          <SelectField label="do this" name="action" defaultValue={action}>
            {actions.map((one) => (
              <Option key={one.value} value={one.value}>
                {one.name}
              </Option>
            ))}
          </SelectField>
          <PieceField
            name="piece"
            value={slug}
            optional
            error={slug && !title ? "There is no such piece." : undefined}
          />
          <Button look="go" busy={busy}>
            {busy ? "Looking …" : "Ask"}
          </Button>
        </Form>
        {slug && title && (
          <p className="mt-4 text-13">
            <Link data-back to={`/pieces/${slug}`} className="text-blue">
              To “{title}”
            </Link>
          </p>
        )}
      </div>
      <section aria-label="Answer" aria-live="polite" className="border-rule px-4 py-5 md:px-8 lg:border-l">
        {!answer && (
          <p className="max-w-140 text-rail">
            {unknown
              ? "That cannot be asked: there is no such person, step or piece."
              : "Choose somebody, what they want to do and, if it is about one, the piece. The answer is the one every command here gives, with its reasons."}
          </p>
        )}
        {answer && (
          <div className="max-w-160">
            {answer.title && <p className="mb-1 text-13 text-rail">“{answer.title}”</p>}
            <p className="flex items-baseline gap-3 text-19 font-semibold">
              <span
                aria-hidden
                className={`size-3 shrink-0 rounded-full border-2 border-ink ${answer.allowed ? "bg-ink" : ""}`}
              />
              {answer.sentence}
            </p>
            <ol className="mt-4 border-t border-ink">
              {answer.because.map((reason) => (
                <li key={reason} className="border-b border-rule py-2">
                  {reason}
                </li>
              ))}
            </ol>
            <h2 className="mt-6 text-rail">{answer.allowed ? "Who else may" : "Who could"}</h2>
            {answer.who.length === 0 ? (
              <p className="mt-1">Nobody else.</p>
            ) : (
              <p className="mt-1">
                {answer.who.map((one, i) => (
                  <span key={one.key}>
                    {i > 0 && ", "}
                    {everyone ? (
                      <Link to={`/people/who/${one.key}`} className="hover:text-blue">
                        {one.name}
                      </Link>
                    ) : (
                      one.name
                    )}
                  </span>
                ))}
                {answer.more > 0 && ` and ${answer.more} more`}
              </p>
            )}
          </div>
        )}
      </section>
    </div>
  );
}

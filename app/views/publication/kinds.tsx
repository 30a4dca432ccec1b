import { Link, useNavigation, useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Part } from "#app/ui/page.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { KindForm } from "#app/views/publication/kind-form.tsx";
import { When } from "#app/views/time/clock.tsx";
import { counted } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/publication-kinds.ts";

/** The kinds of pieces, with the fields of the chosen one beside them. */
export function KindsView({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  const { kinds, models } = loaderData;
  const [words] = useSearchParams();
  const busy = useNavigation().state === "submitting";
  const chosen = kinds.find((one) => one.key === words.get("kind")) ?? null;
  return (
    <div className={chosen ? "grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[220px_minmax(0,1fr)]" : ""}>
      <div className="min-w-0 px-4 py-5 md:px-6">
        <h1 className="mb-4">Kinds</h1>
        {kinds.length === 0 && <p className="mb-4 text-rail">None yet: a piece is of a kind, which says its fields.</p>}
        <ul aria-label="Kinds" className={kinds.length ? "mb-6 border-t border-ink" : ""}>
          {kinds.map((one) => (
            <li
              key={one.id}
              data-row
              className={`flex min-h-9 items-center justify-between gap-3 border-b border-rule focus-within:bg-wash ${one === chosen ? "bg-wash" : ""}`}
            >
              <Link to={`?kind=${one.key}`} className="truncate font-semibold hover:text-blue">
                {one.name}
              </Link>
              <span className="shrink-0 text-13 text-rail">
                {chosen
                  ? one.pieces
                  : `${one.fields.length} fields · ${one.pieces} ${one.pieces === 1 ? "piece" : "pieces"}`}
              </span>
            </li>
          ))}
        </ul>
        <ActionForm intent="add" answer={actionData} className="max-w-80 space-y-3">
          <TextField label="A new kind" name="name" maxLength={80} />
          <Button busy={busy}>Make it</Button>
        </ActionForm>
      </div>
      {chosen && (
        <KindForm key={`${chosen.id} ${chosen.revision}`} kind={chosen} answer={actionData ?? null}>
          <ModelTexts models={models.filter((one) => one.kindId === chosen.id)} answer={actionData ?? null} />
        </KindForm>
      )}
    </div>
  );
}

/** The texts pieces of a kind may begin from, each with what it was made of and how many were begun from it. */
function ModelTexts({
  models,
  answer,
}: {
  models: Route.ComponentProps["loaderData"]["models"];
  answer: FormAnswer | null;
}) {
  const busy = useBusy("drop-model");
  return (
    <Part title="Model texts" className="mt-8">
      {models.length === 0 && (
        <Aside className="mt-2">None yet. One is kept from any piece of this kind, under “What else”.</Aside>
      )}
      <ul>
        {models.map(({ id, name, slug, by, at, uses }) => (
          <li
            key={id}
            className="flex flex-wrap items-center justify-between gap-x-4 border-b border-rule py-1 text-13"
          >
            <span className="min-w-0 break-words">
              {slug ? <TextLink to={`/pieces/${slug}`}>{name}</TextLink> : name}{" "}
              <span className="text-rail">
                kept by {by}, <When at={at} dateOnly /> ·{" "}
                {uses === 0 ? "nothing begun from it" : `${counted(uses, "piece")} begun from it`}
              </span>
            </span>
            <ActionForm intent="drop-model" answer={answer} sends={{ modelId: id }} className="contents">
              <Button look="quiet" busy={busy} aria-label={`Do away with it: ${name}`}>
                Do away with it
              </Button>
            </ActionForm>
          </li>
        ))}
      </ul>
    </Part>
  );
}

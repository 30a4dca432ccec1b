import { useState } from "react";
import { Link } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { TextArea } from "#app/ui/field.tsx";
import { FileDrop } from "#app/ui/file-drop.tsx";
import { Status } from "#app/ui/message.tsx";
import { Page } from "#app/ui/page.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { counted } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/pieces-several.ts";

type Props = Route.ComponentProps;
/** What became of each line, in order. */
type Answer = FormAnswer & { lines?: { title: string; slug: string | null; problems: string[] }[] };

/** Begins several pieces from a list, each for whoever is to write it. */
export function SeveralView({ page, answer: given }: { page: Props["loaderData"]; answer: Answer | null }) {
  const answer = useLastAnswer(given) ?? null;
  const [list, setList] = useState("");
  const busy = useBusy();
  const lines = answer?.lines ?? null;
  const begun = lines?.filter((one) => one.slug !== null).length ?? 0;
  const amiss = lines?.filter((one) => one.problems.length > 0).length ?? 0;
  if (!page.mayBegin) return <p className="p-6">No grant of yours lets you begin a piece. Ask the managing editor.</p>;
  return (
    <Page
      title="Several at once"
      back={{ to: "/pieces/new", name: "New piece" }}
      about={`A line a piece: ${page.columns.join("; ")}. A table copied from elsewhere will do, and so will a CSV file.`}
    >
      <ActionForm intent="begin" answer={answer} sends={{ formKey: page.formKey }} className="mt-4 max-w-220 space-y-4">
        <TextArea
          label="The list"
          name="list"
          rows={8}
          value={list}
          onChange={(event) => setList(event.target.value)}
          placeholder={page.example.join("\n")}
        />
        <FileDrop
          label="Or a CSV file"
          name="file"
          accept=".csv,.tsv,text/csv,text/tab-separated-values"
          onChange={(event) => void event.target.files?.[0]?.text().then(setList)}
        />
        {begun > 0 && lines ? (
          <Status>
            {counted(begun, "piece")} begun{begun < lines.length && `, ${lines.length - begun} not`}.
          </Status>
        ) : (
          <div className="flex flex-wrap items-center gap-3">
            <Button look="go" busy={busy}>
              Begin them
            </Button>
            <Button name="look" value="yes" busy={busy}>
              Look at it first
            </Button>
            {lines && !busy && (
              <Status>
                {amiss === 0
                  ? `${counted(lines.length, "piece")} can be begun.`
                  : `Of ${counted(lines.length, "line")}, ${amiss} ${amiss === 1 ? "is" : "are"} to be mended first; none is begun.`}
              </Status>
            )}
          </div>
        )}
      </ActionForm>
      {lines && <Lines lines={lines} />}
    </Page>
  );
}

function Lines({ lines }: { lines: readonly { title: string; slug: string | null; problems: string[] }[] }) {
  return (
    <ol aria-label="What becomes of each line" className="mt-6 max-w-220 border-t border-ink">
      {lines.map(({ title, slug, problems }, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two lines may say the same
        <li key={i} className="flex flex-wrap justify-between gap-x-4 border-b border-rule py-1.5 text-13">
          {slug ? (
            <Link to={`/pieces/${slug}`} className="min-w-0 truncate font-semibold text-blue">
              {title}
            </Link>
          ) : (
            <b className="min-w-0 truncate font-semibold">{title || `Line ${i + 1}`}</b>
          )}
          <span className={problems.length > 0 ? "text-red" : "text-rail"}>
            {problems.join(" ") || (slug ? "is begun" : "can be begun")}
          </span>
        </li>
      ))}
    </ol>
  );
}

import { useBegun } from "#app/ui/begun.ts";
import {
  Abandoning,
  AskingOpinion,
  Deleting,
  Further,
  HandingOn,
  KeepingModel,
  OnAnotherLine,
  Overriding,
  Recalling,
} from "./beyond.tsx";
import { HandingBack } from "./commission.tsx";
import { Deciding } from "./deciding.tsx";
import { Files } from "./files.tsx";
import { Panelled, type PanelProps } from "./framed.tsx";
import { Guests } from "./guests.tsx";
import { Placing } from "./placing.tsx";
import { Embargo, Ending, Planning, Wishing, Withdrawing } from "./planning.tsx";
import { Routing } from "./routing.tsx";
import { Sending } from "./sending.tsx";
import { Through } from "./through.tsx";

/** Beside the text: the form of what the person is about to do, named in the address; brought into view, and begun. */
export function Panel({ doing, ...props }: PanelProps & { doing: string }) {
  const place = useBegun<HTMLDivElement>(doing);
  return <div ref={place}>{panelFor(doing, props)}</div>;
}

function panelFor(doing: string, props: PanelProps) {
  const { page, answer } = props;
  const step = page.steps.find((one) => `step-${one.key}` === doing);
  if (step && !step.refusal) return <Sending step={step} {...props} />;
  if (doing === "decide" && page.decision) return <Deciding {...props} />;
  if (doing === "plan" && page.schedulable) return <Planning {...props} />;
  if (doing === "more") return <Further page={page} />;
  if (doing === "model" && page.routing) return <KeepingModel {...props} />;
  if (doing === "recall" && page.recall) return <Recalling {...props} />;
  if (doing === "hand" && page.hands) return <HandingOn {...props} />;
  if (doing === "opinion" && page.commentable) return <AskingOpinion {...props} />;
  if (doing === "pass" && page.routing) return <Routing {...props} />;
  if (doing === "place" && page.routing) return <Placing {...props} />;
  if (doing === "line" && page.configure) return <OnAnotherLine {...props} />;
  if (doing === "override" && page.overrides.length > 0) return <Overriding {...props} />;
  if (doing === "hand-back" && page.commission?.asks) return <HandingBack {...props} />;
  if (doing === "wish" && page.wishes) return <Wishing {...props} />;
  if (doing === "through" && (page.through.open || page.through.fills)) return <Through {...props} />;
  if (doing === "until" && page.withdrawable) return <Ending {...props} />;
  if (doing === "embargo" && page.embargoes) return <Embargo {...props} />;
  if (doing === "withdraw" && page.withdrawable) return <Withdrawing {...props} />;
  if (doing === "abandon" && page.abandonable) return <Abandoning {...props} />;
  if (doing === "delete" && page.deletable) return <Deleting {...props} />;
  if (doing === "guests" && page.invites) return <Guests page={page} answer={answer} />;
  if (doing === "files") return <Files page={page} />;
  if (doing === "take") return <TakeAlong page={page} />;
  return null;
}

/** The piece as a file, in the open forms. */
function TakeAlong({ page }: Pick<PanelProps, "page">) {
  const forms: [string, string][] = [
    ["docx", "A document (DOCX)"],
    ["md", "Markdown, which comes back unchanged"],
    ["html", "HTML"],
  ];
  return (
    <Panelled title="Take it along">
      <p className="mb-2 text-13 text-rail">Version {page.version.number} as a file:</p>
      <ul className="space-y-1.5">
        {forms.map(([format, words]) => (
          <li key={format}>
            <a
              href={`/pieces/${page.row.slug}/document?as=${format}&version=${page.version.number}`}
              className="font-semibold text-blue"
            >
              {words}
            </a>
          </li>
        ))}
        <li>
          <a href={`/pieces/${page.row.slug}/remarks.jsonld`} className="font-semibold text-blue" download>
            Its remarks, as web annotations (JSON-LD)
          </a>
        </li>
      </ul>
    </Panelled>
  );
}

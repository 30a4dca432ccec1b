import { useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { type Packed, usePacked } from "#app/packed.ts";
import { useBegun } from "#app/ui/begun.ts";
import { TextLink } from "#app/ui/button.tsx";
import { Message } from "#app/ui/message.tsx";
import { PanelLeave, Panelled } from "#app/views/piece/framed.tsx";
import type { PiecePage } from "#app/views/piece/page.ts";
import { Panel } from "#app/views/piece/panel.tsx";
import type { Refusal } from "#core/refusal.ts";

/** Beside the stops: the form of the step a piece was carried along, or why it is closed. */
export function CarriedPanel({ desk, answer }: { desk: Packed<PiecePage>; answer: FormAnswer | null }) {
  const page = usePacked(desk);
  const [words] = useSearchParams();
  const doing = words.get("do") ?? "";
  const leave = new URLSearchParams([...words].filter(([key]) => key !== "do" && key !== "piece"));
  const closed = closedOf(page, doing);
  return (
    <PanelLeave value={`?${leave}`}>
      <aside className="border-rule bg-enamel px-4 py-4 max-lg:order-first lg:sticky lg:top-12 lg:self-start lg:border-l">
        {closed ? (
          <Closed key={`${page.row.id} ${doing}`} doing={doing} {...closed} />
        ) : (
          <Panel key={`${page.row.id} ${doing}`} doing={doing} page={page} saving={false} answer={answer} />
        )}
        <p className="mt-3 text-13">
          <TextLink to={`/pieces/${page.row.slug}`}>Read “{page.row.title}” first</TextLink>
        </p>
      </aside>
    </PanelLeave>
  );
}

interface WhyClosed {
  title: string;
  refusal: Pick<Refusal, "sentence" | "missing" | "who">;
}

function Closed({ doing, title, refusal: { sentence, missing = [], who = [] } }: WhyClosed & { doing: string }) {
  const place = useBegun<HTMLDivElement>(doing);
  return (
    <div ref={place}>
      <Panelled title={title}>
        <Message more={[...missing, ...(who.length > 0 ? [`Open to: ${who.join(", ")}.`] : [])]}>{sentence}</Message>
      </Panelled>
    </div>
  );
}

/** Why what is asked is closed; null where it is open. */
function closedOf(page: PiecePage, doing: string): WhyClosed | null {
  const gone = { sentence: "It moved on meanwhile: nobody takes that step from where it is now." };
  if (doing === "decide") return page.decision ? null : { title: "Decide", refusal: page.decideClosed ?? gone };
  const step = page.steps.find((one) => `step-${one.key}` === doing);
  if (!step) return { title: page.row.title, refusal: gone };
  return step.refusal ? { title: step.name, refusal: step.refusal } : null;
}

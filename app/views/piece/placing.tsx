import { useSearchParams } from "react-router";
import { useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { ChoiceForm } from "#app/ui/choice-form.tsx";
import { Hidden, TextArea } from "#app/ui/field.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { list } from "#core/words/say.ts";
import { Panelled, type PanelProps, PieceForm } from "./framed.tsx";

/** Gives a piece another section, kind or author, with what that changes shown first. */
export function Placing(props: PanelProps) {
  const { page, answer } = props;
  const [words] = useSearchParams();
  const busy = useBusy();
  const { places, placed } = page;
  if (!places) return null;
  const chosen = {
    section: words.get("section") ?? places.now.sectionId,
    kind: words.get("kind") ?? places.now.kindId,
    author: words.get("author") ?? places.now.authorId,
  };
  const same =
    chosen.section === places.now.sectionId &&
    chosen.kind === places.now.kindId &&
    chosen.author === places.now.authorId;
  const options = (all: { id: string; name: string }[]) =>
    all.map((one) => (
      <Option key={one.id} value={one.id}>
        {one.name}
      </Option>
    ));
  return (
    <Panelled title="Where it belongs">
      <ChoiceForm className="space-y-3">
        <Hidden name="do" value="place" />
        <SelectField label="Section" name="section" defaultValue={chosen.section}>
          {options(places.sections)}
        </SelectField>
        <SelectField label="Kind" name="kind" defaultValue={chosen.kind}>
          {options(places.kinds)}
        </SelectField>
        <SelectField label="Author" name="author" defaultValue={chosen.author}>
          {options(places.people)}
        </SelectField>
      </ChoiceForm>
      {same ? (
        <p className="mt-3 text-13 text-rail">It stays where it is on its line. Choose what is to change.</p>
      ) : (
        <div className="mt-4 space-y-3">
          <section aria-label="What it changes" className="text-13">
            <h3 className="border-b border-rule pb-1 font-semibold">What it changes</h3>
            <ul>
              {(placed ? changes(placed) : ["Looking …"]).map((line) => (
                <li key={line} className="border-b border-rule py-1">
                  {line}
                </li>
              ))}
            </ul>
          </section>
          <PieceForm intent="place" page={page} answer={answer}>
            <Hidden name="sectionId" value={chosen.section} />
            <Hidden name="kindId" value={chosen.kind} />
            <Hidden name="authorId" value={chosen.author} />
            <TextArea label="Why" name="note" required maxLength={4000} />
            <Button look="go" busy={busy} disabled={!placed}>
              Put it there
            </Button>
          </PieceForm>
        </div>
      )}
    </Panelled>
  );
}

function changes({ gains, loses, workflow, lost, missing }: NonNullable<PanelProps["page"]["placed"]>): string[] {
  const lines = [
    gains.length > 0 && `${list(gains)} may read it from then on.`,
    loses.length > 0 && `${list(loses)} may not read it any more.`,
    workflow && `New pieces there begin on ${workflow}; this one stays on its line.`,
    lost.length > 0 && `${list(lost)} has no place in the other kind: its words stay in the version before.`,
    missing.length > 0 && `Then missing: ${missing.join("; ")}.`,
  ].filter((line) => typeof line === "string");
  return lines.length > 0 ? lines : ["The same people read it, on the same line."];
}

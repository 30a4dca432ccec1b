import { useEffect } from "react";
import { Link, useNavigate, useNavigation, useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { DragArea, useCarried, useLanding } from "#app/ui/drag.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { Beside, Split } from "#app/ui/page.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import type { MovePreview } from "#server/sections/commands.ts";

interface Node {
  id: string;
  name: string;
  parentId: string | null;
  revision: number;
  /** The workflow new pieces begin on there, or null. */
  workflow: string | null;
  /** Whether it is set there rather than inherited. */
  own: boolean;
}

interface Props {
  name: string;
  sections: readonly Node[];
  preview: MovePreview | null;
  answer: FormAnswer | null;
}

const TOP = "top";

/** The tree of sections: dragged into another, or moved by its form; what that changes is shown before it is done. */
export function SectionTree({ name, sections, preview, answer }: Props) {
  const navigate = useNavigate();
  const [words] = useSearchParams();
  const chosen = sections.find((one) => one.id === (words.get("section") ?? words.get("move"))) ?? null;
  const onDrop = (id: string, place: string) => {
    const moved = sections.find((one) => one.id === id);
    const under = place === TOP ? null : place;
    if (moved && moved.parentId !== under)
      navigate(`?move=${moved.id}&under=${under ?? ""}`, { preventScrollReset: true });
  };
  return (
    <Split
      beside={chosen && <Chosen key={chosen.id} node={chosen} sections={sections} preview={preview} answer={answer} />}
    >
      <h1 className="mb-4">Sections</h1>
      {sections.length === 0 && <p className="mb-4 text-rail">None yet: pieces need one to be begun in.</p>}
      <DragArea
        nameOf={(id) => sections.find((one) => one.id === id)?.name ?? name}
        instructions="Enter takes the section up, the arrows carry it, Enter puts it down."
        onDrop={onDrop}
      >
        <Top name={name} />
        <ul aria-label="Sections" className="border-t border-ink">
          {childrenOf(sections, null).map((one) => (
            <Branch key={one.id} node={one} sections={sections} depth={0} chosen={chosen} />
          ))}
        </ul>
      </DragArea>
      <Add sections={sections} answer={answer} />
    </Split>
  );
}

const childrenOf = (sections: readonly Node[], parentId: string | null) =>
  sections.filter((one) => one.parentId === parentId);

function Top({ name }: { name: string }) {
  const { place, isOver } = useLanding(TOP);
  return (
    <p ref={place} className={`py-1.5 text-13 text-rail ${isOver ? "bg-yellow text-on-yellow" : ""}`}>
      {name}
    </p>
  );
}

function Branch({
  node,
  sections,
  depth,
  chosen,
}: {
  node: Node;
  sections: readonly Node[];
  depth: number;
  chosen: Node | null;
}) {
  const { thing, handle, isCarried } = useCarried(node.id);
  const { place, isOver } = useLanding(node.id);
  const below = childrenOf(sections, node.id);
  return (
    <li>
      <div
        ref={(element) => {
          thing(element);
          place(element);
        }}
        data-row
        style={{ paddingLeft: depth * 24 }}
        className={`flex min-h-9 items-center gap-2 border-b border-rule focus-within:bg-wash ${node === chosen ? "bg-wash" : ""} ${isOver && !isCarried ? "bg-yellow text-on-yellow" : ""} ${isCarried ? "relative z-10 bg-paper opacity-80" : ""}`}
      >
        <Button
          look="bare"
          type="button"
          ref={handle}
          aria-label={`Move ${node.name}`}
          className="cursor-grab touch-none px-1 text-rail hover:text-ink"
        >
          ⠿
        </Button>
        <Link
          to={`?section=${node.id}`}
          preventScrollReset
          className="min-w-0 grow truncate font-semibold hover:text-blue"
        >
          {node.name}
        </Link>
        <span className="shrink-0 text-13 text-rail">
          {node.workflow ? (node.own ? node.workflow : `${node.workflow}, from above`) : "no workflow applies"}
        </span>
      </div>
      {below.length > 0 && (
        <ul>
          {below.map((one) => (
            <Branch key={one.id} node={one} sections={sections} depth={depth + 1} chosen={chosen} />
          ))}
        </ul>
      )}
    </li>
  );
}

function pathOf(sections: readonly Node[], node: Node): string {
  const parent = sections.find((one) => one.id === node.parentId);
  return parent ? `${pathOf(sections, parent)} / ${node.name}` : node.name;
}

function Add({ sections, answer }: { sections: readonly Node[]; answer: FormAnswer | null }) {
  const busy = useNavigation().state === "submitting";
  return (
    <ActionForm intent="add" answer={answer} empties className="mt-6 flex max-w-140 flex-wrap items-start gap-3">
      <div className="w-60">
        <TextField label="A new section" name="name" maxLength={80} />
      </div>
      <div className="w-52">
        <SelectField label="Under" name="parentId">
          <Option value="">the top</Option>
          {sections.map((one) => (
            <Option key={one.id} value={one.id}>
              {pathOf(sections, one)}
            </Option>
          ))}
        </SelectField>
      </div>
      <Button busy={busy} className="mt-6">
        Add it
      </Button>
    </ActionForm>
  );
}

function Chosen({ node, sections, preview, answer }: Omit<Props, "name"> & { node: Node }) {
  const navigate = useNavigate();
  const busy = useNavigation().state === "submitting";
  const [words] = useSearchParams();
  const under = words.get("move") === node.id ? words.get("under") : null;
  const sends = { id: node.id, revision: node.revision };
  const moved = answer?.intent === "move" && !answer.refusal;
  useEffect(() => {
    if (moved) navigate(`?section=${node.id}`, { replace: true, preventScrollReset: true });
  }, [moved, navigate, node.id]);
  return (
    <Beside title={node.name} leave="/publication/sections">
      <div className="space-y-7">
        <ActionForm intent="rename" answer={answer} sends={sends} className="space-y-2">
          <TextField key={node.name} label="Name" name="name" defaultValue={node.name} maxLength={80} />
          <Button busy={busy}>Rename</Button>
        </ActionForm>
        <ActionForm intent="move" answer={answer} sends={sends} className="space-y-2">
          <SelectField
            label="It is under"
            name="parentId"
            value={under ?? node.parentId ?? ""}
            onChoose={(value) => navigate(`?move=${node.id}&under=${value}`, { preventScrollReset: true })}
          >
            <Option value="">the top</Option>
            {sections
              .filter((one) => one.id !== node.id)
              .map((one) => (
                <Option key={one.id} value={one.id}>
                  {pathOf(sections, one)}
                </Option>
              ))}
          </SelectField>
          <Place node={node} sections={sections} under={under} />
          {preview && under !== null && <Consequences preview={preview} />}
          <Button look={preview ? "go" : "plain"} busy={busy} disabled={Boolean(preview?.refused)}>
            {preview ? "Move it" : "Keep its place"}
          </Button>
        </ActionForm>
        <ActionForm intent="delete" answer={answer} sends={sends} className="space-y-2">
          <Button look="quiet" busy={busy} className="-ml-3">
            Take it away
          </Button>
        </ActionForm>
        <p className="text-13 text-rail">
          Which workflow applies is chosen with the{" "}
          <Link to="/workflows" className="text-blue underline underline-offset-3">
            workflows
          </Link>
          .
        </p>
      </div>
    </Beside>
  );
}

function Place({ node, sections, under }: { node: Node; sections: readonly Node[]; under: string | null }) {
  const parentId = under === null ? node.parentId : under || null;
  const beside = childrenOf(sections, parentId).filter((one) => one.id !== node.id);
  const at = parentId === node.parentId ? childrenOf(sections, parentId).indexOf(node) : beside.length;
  return (
    <SelectField key={parentId} label="Its place there" name="position" defaultValue={at}>
      <Option value={0}>first</Option>
      {beside.map((one, i) => (
        <Option key={one.id} value={i + 1}>
          after {one.name}
        </Option>
      ))}
    </SelectField>
  );
}

function Consequences({ preview }: { preview: MovePreview }) {
  const { workflows, gains, loses, pieces, refused } = preview;
  if (refused) return <Message>{refused}</Message>;
  return (
    <section aria-label="What moving it changes" aria-live="polite" className="border-y border-ink py-2 text-13">
      <h3 className="font-semibold">What moving it changes</h3>
      <ul className="space-y-0.5">
        {workflows.length === 0 && <li>New pieces begin on the same workflow as before.</li>}
        {workflows.map((one) => (
          <li key={one.section}>
            {one.section}: new pieces begin on {one.after}, no longer {one.before}.
          </li>
        ))}
        <li>
          {pieces === 0
            ? "No piece is in flight there."
            : `The ${pieces} in flight there stay on the workflow they are on.`}
        </li>
        {gains.length > 0 && <li>Reach it from then on: {gains.join(", ")}.</li>}
        {loses.length > 0 && <li>No longer reach it: {loses.join(", ")}.</li>}
        {gains.length + loses.length === 0 && <li>Who reaches it stays the same.</li>}
      </ul>
    </section>
  );
}

import {
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { useEffect } from "react";
import { Form, Link, useNavigate, useNavigation, useSearchParams } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Beside, Split } from "#app/ui/page.tsx";
import { Button } from "#app/ui/button.tsx";
import { SelectField, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import type { MovePreview } from "#server/sections/commands.ts";
import { Refused } from "./refused.tsx";

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
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor),
  );
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || over.id === active.id) return;
    const moved = sections.find((one) => one.id === active.id);
    const under = over.id === TOP ? null : String(over.id);
    if (moved && moved.parentId !== under)
      navigate(`?move=${moved.id}&under=${under ?? ""}`, { preventScrollReset: true });
  };
  return (
    <Split
      beside={chosen && <Chosen key={chosen.id} node={chosen} sections={sections} preview={preview} answer={answer} />}
    >
      <h1 className="mb-4">Sections</h1>
      {sections.length === 0 && <p className="mb-4 text-rail">None yet: pieces need one to be begun in.</p>}
      <DndContext sensors={sensors} onDragEnd={onDragEnd}>
        <Top name={name} />
        <ul aria-label="Sections" className="border-t border-ink">
          {childrenOf(sections, null).map((one) => (
            <Branch key={one.id} node={one} sections={sections} depth={0} chosen={chosen} />
          ))}
        </ul>
      </DndContext>
      <Add sections={sections} answer={answer} />
    </Split>
  );
}

const childrenOf = (sections: readonly Node[], parentId: string | null) =>
  sections.filter((one) => one.parentId === parentId);

function Top({ name }: { name: string }) {
  const { setNodeRef, isOver } = useDroppable({ id: TOP });
  return (
    <p ref={setNodeRef} className={`py-1.5 text-13 text-rail ${isOver ? "bg-yellow text-on-yellow" : ""}`}>
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
  const drag = useDraggable({ id: node.id });
  const drop = useDroppable({ id: node.id });
  const below = childrenOf(sections, node.id);
  const offset = drag.transform ? { transform: `translate(${drag.transform.x}px, ${drag.transform.y}px)` } : {};
  return (
    <li>
      <div
        ref={(element) => {
          drag.setNodeRef(element);
          drop.setNodeRef(element);
        }}
        data-row
        style={{ paddingLeft: depth * 24, ...offset }}
        className={`flex min-h-9 items-center gap-2 border-b border-rule focus-within:bg-wash ${node === chosen ? "bg-wash" : ""} ${drop.isOver && !drag.isDragging ? "bg-yellow" : ""} ${drag.isDragging ? "relative z-10 bg-paper opacity-80" : ""}`}
      >
        <button
          type="button"
          {...drag.attributes}
          {...drag.listeners}
          aria-label={`Move ${node.name}`}
          className="cursor-grab touch-none px-1 text-track hover:text-ink"
        >
          ⠿
        </button>
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
  const errors = fieldErrors(answer, "add");
  return (
    <Form method="post" preventScrollReset className="mt-6 flex max-w-140 flex-wrap items-start gap-3">
      <input type="hidden" name="intent" value="add" />
      <div className="w-60">
        <TextField label="A new section" name="name" maxLength={80} error={errors.name} />
      </div>
      <div className="w-52">
        <SelectField label="Under" name="parentId" error={errors.parentId}>
          <option value="">the top</option>
          {sections.map((one) => (
            <option key={one.id} value={one.id}>
              {pathOf(sections, one)}
            </option>
          ))}
        </SelectField>
      </div>
      <Button disabled={busy} className="mt-6">
        Add it
      </Button>
    </Form>
  );
}

function Chosen({ node, sections, preview, answer }: Omit<Props, "name"> & { node: Node }) {
  const navigate = useNavigate();
  const busy = useNavigation().state === "submitting";
  const [words] = useSearchParams();
  const under = words.get("move") === node.id ? words.get("under") : null;
  const hidden = (
    <>
      <input type="hidden" name="id" value={node.id} />
      <input type="hidden" name="revision" value={node.revision} />
    </>
  );
  const moved = answer?.intent === "move" && !answer.refusal;
  useEffect(() => {
    if (moved) navigate(`?section=${node.id}`, { replace: true, preventScrollReset: true });
  }, [moved, navigate, node.id]);
  return (
    <Beside title={node.name} leave="/people/sections">
      <div className="space-y-7">
        <Form method="post" preventScrollReset className="space-y-2">
          <input type="hidden" name="intent" value="rename" />
          {hidden}
          <Refused answer={answer} intent="rename" shown={["name"]} />
          <TextField
            key={node.name}
            label="Name"
            name="name"
            defaultValue={node.name}
            maxLength={80}
            error={fieldErrors(answer, "rename").name}
          />
          <Button disabled={busy}>Rename</Button>
        </Form>
        <Form method="post" preventScrollReset className="space-y-2">
          <input type="hidden" name="intent" value="move" />
          {hidden}
          <Refused answer={answer} intent="move" />
          <SelectField
            label="It is under"
            name="parentId"
            value={under ?? node.parentId ?? ""}
            onChange={(event) => navigate(`?move=${node.id}&under=${event.target.value}`, { preventScrollReset: true })}
          >
            <option value="">the top</option>
            {sections
              .filter((one) => one.id !== node.id)
              .map((one) => (
                <option key={one.id} value={one.id}>
                  {pathOf(sections, one)}
                </option>
              ))}
          </SelectField>
          <Place node={node} sections={sections} under={under} />
          {preview && under !== null && <Consequences preview={preview} />}
          <Button look={preview ? "go" : "plain"} disabled={busy || Boolean(preview?.refused)}>
            {preview ? "Move it" : "Keep its place"}
          </Button>
        </Form>
        <Form method="post" className="space-y-2">
          <input type="hidden" name="intent" value="delete" />
          {hidden}
          <Refused answer={answer} intent="delete" />
          <Button look="quiet" disabled={busy} className="-ml-3">
            Take it away
          </Button>
        </Form>
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
      <option value={0}>first</option>
      {beside.map((one, i) => (
        <option key={one.id} value={i + 1}>
          after {one.name}
        </option>
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

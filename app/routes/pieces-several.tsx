import { v5, v7 } from "uuid";
import { z } from "zod";
import { answered, guarded, misread, notFound, readForm, requireViewer, runCommand } from "#app/request.ts";
import { SeveralView } from "#app/views/piece/several.tsx";
import { beginnings } from "#server/pieces/beginning.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { writersFor } from "#server/pieces/commission.ts";
import { COLUMNS, readSeveral } from "#server/pieces/several.ts";
import type { Route } from "./+types/pieces-several.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const { kinds, sections } = beginnings(viewer);
  const writers = await writersFor(context.db, viewer);
  return {
    columns: COLUMNS,
    // Two lines to begin from, of what is here.
    example: [
      [
        "The bridge is mended",
        kinds[0]?.name,
        sections[0]?.name,
        writers[0]?.name ?? viewer.name,
        "in 5 wd",
        "80 words",
      ],
      ["The bus in winter", kinds[0]?.name, sections[0]?.name, "", "", ""],
    ].map((row) => row.join("; ")),
    mayBegin: kinds.length > 0,
    formKey: v7(),
  };
}

const schema = z.object({
  formKey: z.uuid(),
  list: z.string().trim().min(1, "The list is empty.").max(100_000, "That is too much at once."),
});

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  if (intent !== "begin") throw notFound();
  const looks = sent.has("look");
  const read = readForm(schema, sent);
  if ("fields" in read) return misread(intent, read.fields);
  const { list, formKey } = read.values;
  const several = readSeveral(list, viewer, await writersFor(context.db, viewer));
  if ("problem" in several) return misread(intent, { list: several.problem });
  const amiss = several.lines.some((line) => line.problems.length > 0);
  const lines: { title: string; slug: string | null; problems: string[] }[] = [];
  for (const [i, { said, piece, problems }] of several.lines.entries()) {
    // As long as one line is amiss none is begun: the list is mended, not its rest.
    if (looks || amiss || !piece) {
      lines.push({ title: said.title, slug: null, problems });
      continue;
    }
    const done = await runCommand(intent, () =>
      createPiece(context.act(viewer.id, v5(`${i} ${list}`, formKey)), piece),
    );
    lines.push(
      "value" in done
        ? { title: said.title, slug: done.value.slug, problems: [] }
        : { title: said.title, slug: null, problems: [done.data.refusal?.sentence ?? "It could not be begun."] },
    );
  }
  return { ...answered(intent), lines };
});

export const meta: Route.MetaFunction = () => [{ title: "Several at once · Elenco" }];

export default function Several({ loaderData, actionData }: Route.ComponentProps) {
  return <SeveralView page={loaderData} answer={actionData ?? null} />;
}

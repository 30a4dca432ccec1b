import { z } from "zod";
import { answered, misread, notFound, readForm } from "#app/request.ts";
import { MannerView } from "#app/views/standins/manner.tsx";
import { MOOD_KEYS, MOODS, moodOf, setMood } from "#server/standins/assistant.ts";
import type { Route } from "./+types/standin-manner.ts";

export async function loader({ context }: Route.LoaderArgs) {
  if (!context.standIns) throw notFound();
  return { mood: await moodOf(context.db), moods: MOOD_KEYS.map((key) => ({ key, says: MOODS[key] })) };
}

const schema = z.object({ mood: z.enum(MOOD_KEYS, "Choose one of them.") });

/** Tells the stand-in for an assistant how to behave. */
export async function action({ context, request }: Route.ActionArgs) {
  if (!context.standIns) throw notFound();
  const read = readForm(schema, await request.formData());
  if (!("values" in read)) return misread("mood", read.fields);
  await setMood(context.db, read.values.mood);
  return answered("mood");
}

export const meta: Route.MetaFunction = () => [{ title: "Assistant stand-in" }];

export default function Manner(props: Route.ComponentProps) {
  return <MannerView {...props} />;
}

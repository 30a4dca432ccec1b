import { notFound } from "#app/request.ts";
import { SurfaceView } from "#app/views/standins/surface.tsx";
import type { Route } from "./+types/standin-surface.ts";

/** For whoever builds a screen: there where stand-ins are. */
export function loader({ context }: Route.LoaderArgs) {
  if (!context.standIns) throw notFound();
  return null;
}

export const meta: Route.MetaFunction = () => [{ title: "Surface · Elenco" }];

export default function Surface() {
  return <SurfaceView />;
}

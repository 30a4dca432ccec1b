import { NavLink, Outlet } from "react-router";
import { notFound, requireViewer } from "#app/request.ts";
import { open, ROOMS } from "#app/views/frame/places.ts";
import type { Route } from "./+types/people.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const rooms = open(ROOMS, viewer, viewer.now).map(({ to, name }) => ({ to, name }));
  if (rooms.length === 0) throw notFound();
  return { rooms };
}

export default function People({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <nav
        aria-label="People"
        className="flex gap-x-5 overflow-x-auto border-b border-rule px-4 pt-3 text-13 md:px-6 print:hidden"
      >
        {loaderData.rooms.map(({ to, name }) => (
          <NavLink
            key={to}
            to={to}
            end={to === "/people"}
            className={({ isActive }) =>
              `whitespace-nowrap border-b-3 pb-1.5 ${isActive ? "border-blue font-semibold text-blue" : "border-transparent hover:text-blue"}`
            }
          >
            {name}
          </NavLink>
        ))}
      </nav>
      <Outlet />
    </>
  );
}

import { Link } from "react-router";
import { Beside } from "#app/ui/page.tsx";
import { PERMISSIONS, type Permission } from "#core/access/permissions.ts";
import type { whoHas } from "#server/people/queries.ts";

/** Beside the matrix: everybody who may do one thing, and through what. */
export function WhoHas({ permission, having }: { permission: Permission; having: Awaited<ReturnType<typeof whoHas>> }) {
  return (
    <Beside title={`Who may ${PERMISSIONS[permission]}`} leave="/people/roles">
      {having.length === 0 && <p className="text-13 text-rail">Nobody, at present.</p>}
      <ul className="border-t border-ink text-13">
        {having.map((one) => (
          <li key={one.key + one.grant} className="border-b border-rule py-1.5">
            <p className="flex justify-between gap-3">
              <Link to={`/people/who/${one.key}`} className="font-semibold hover:text-blue">
                {one.name}
              </Link>
              <Link to={`/why?person=${one.key}&action=${permission}`} className="text-blue">
                Why?
              </Link>
            </p>
            <p className="text-rail">
              {one.through}
              {one.own && ": their own pieces only"}
            </p>
          </li>
        ))}
      </ul>
    </Beside>
  );
}

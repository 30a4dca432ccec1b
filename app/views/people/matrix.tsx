import { type KeyboardEvent, useRef } from "react";
import { Link } from "react-router";
import { Button } from "#app/ui/button.tsx";
import {
  type Extent,
  extentOf,
  hasOwnForm,
  PERMISSION_GROUPS,
  PERMISSIONS,
  type Permission,
} from "#core/access/permissions.ts";
import type { RoleRow } from "#server/people/roles.ts";
import type { RoleDraft } from "./role-draft.ts";

interface Props {
  roles: readonly RoleRow[];
  /** The role that is being changed. */
  chosen: RoleRow | null;
  /** The role it is compared with. */
  other: RoleRow | null;
  draft: RoleDraft;
  /** The permission whose holders are shown. */
  permission: Permission | null;
}

const WORDS: Record<Extent, string> = { yes: "yes", own: "own pieces only", no: "no" };

/** Roles beside permissions. The chosen role's column is edited in place: arrows move, y, o and n say how much. */
export function Matrix({ roles, chosen, other, draft, permission }: Props) {
  const table = useRef<HTMLTableElement>(null);
  return (
    <div className="relative overflow-x-auto">
      <table ref={table} className="w-full border-collapse text-13">
        <thead>
          <tr className="border-b border-ink align-bottom">
            <th scope="col" className="min-w-60 pb-1 text-left font-normal text-rail">
              {chosen ? "Space changes, arrows move" : "Choose a role to change it"}
            </th>
            {roles.map((role) => (
              <th
                key={role.key}
                scope="col"
                className={`narrow w-19 px-1 pb-1 text-center align-bottom leading-4 ${role === chosen ? "bg-yellow text-on-yellow" : role === other ? "bg-wash" : ""}`}
              >
                <Link
                  to={role === chosen ? "?" : `?role=${role.key}`}
                  className={`block font-semibold ${role === chosen ? "" : "hover:text-blue"}`}
                  aria-current={role === chosen || undefined}
                >
                  {role.name}
                </Link>
                <span className={`font-normal ${role === chosen ? "" : "text-rail"}`}>{role.holders || "nobody"}</span>
              </th>
            ))}
          </tr>
        </thead>
        {PERMISSION_GROUPS.map((group) => (
          <tbody key={group.name}>
            <tr>
              <th scope="rowgroup" colSpan={roles.length + 1} className="pt-3 pb-1 text-left font-semibold">
                {group.name}
              </th>
            </tr>
            {group.permissions.map((one) => (
              <Row
                key={one}
                permission={one}
                {...{ roles, chosen, other, draft }}
                shown={one === permission}
                table={table}
              />
            ))}
          </tbody>
        ))}
      </table>
    </div>
  );
}

function Row({
  permission,
  roles,
  chosen,
  other,
  draft,
  shown,
  table,
}: Omit<Props, "permission"> & {
  permission: Permission;
  shown: boolean;
  table: React.RefObject<HTMLTableElement | null>;
}) {
  const extent = (role: RoleRow) => extentOf(role === chosen ? draft.held : role.permissions, permission);
  const differs = chosen && other && extent(chosen) !== extent(other);
  return (
    <tr className={`h-7 border-b border-rule ${shown || differs ? "bg-wash" : "hover:bg-platform"}`}>
      <th scope="row" className="narrow py-0.5 pr-3 text-left font-normal">
        <Link to={`?permission=${permission}`} preventScrollReset title="Who may do this" className="hover:text-blue">
          {PERMISSIONS[permission]}
        </Link>
        {differs && <span className="sr-only"> (they differ)</span>}
      </th>
      {roles.map((role) => (
        <td key={role.key} className={`text-center ${role === chosen ? "bg-wash" : ""}`}>
          {role === chosen ? (
            <Cell
              permission={permission}
              extent={extent(role)}
              role={role.name}
              changed={draft.changed.includes(permission)}
              onChange={(to) => draft.set(permission, to)}
              table={table}
            />
          ) : (
            <ExtentMark extent={extent(role)} />
          )}
        </td>
      ))}
    </tr>
  );
}

function Cell({
  permission,
  extent,
  role,
  changed,
  onChange,
  table,
}: {
  permission: Permission;
  extent: Extent;
  role: string;
  changed: boolean;
  onChange(to: Extent): void;
  table: React.RefObject<HTMLTableElement | null>;
}) {
  const order: Extent[] = hasOwnForm(permission) ? ["no", "own", "yes"] : ["no", "yes"];
  const onKeyDown = (event: KeyboardEvent<HTMLButtonElement>) => {
    const direct = { y: "yes", o: "own", n: "no" }[event.key] as Extent | undefined;
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (direct && order.includes(direct)) onChange(direct);
    else if (step) {
      const cells = [...(table.current?.querySelectorAll<HTMLButtonElement>("[data-cell]") ?? [])];
      cells[cells.indexOf(event.currentTarget) + step]?.focus();
    } else return;
    event.preventDefault();
  };
  return (
    <Button
      look="bare"
      type="button"
      data-cell={permission}
      aria-label={`${role}, ${PERMISSIONS[permission]}: ${WORDS[extent]}`}
      className={`h-6 w-12 rounded border hover:border-ink ${changed ? "border-ink bg-paper font-bold" : "border-track bg-paper"}`}
      onClick={() => onChange(order[(order.indexOf(extent) + 1) % order.length] as Extent)}
      onKeyDown={onKeyDown}
    >
      <ExtentMark extent={extent} />
    </Button>
  );
}

/** How far a permission goes: a filled disc, the word "own", or next to nothing. */
function ExtentMark({ extent }: { extent: Extent }) {
  if (extent === "own") return <span className="narrow text-12">own</span>;
  return (
    <>
      <span aria-hidden className={extent === "yes" ? "inline-block size-2.5 rounded-full bg-ink" : "text-track"}>
        {extent === "yes" ? "" : "·"}
      </span>
      <span className="sr-only">{extent}</span>
    </>
  );
}

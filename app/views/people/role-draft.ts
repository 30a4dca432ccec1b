import { useState } from "react";
import { type Extent, extentOf, type Held, type Permission, withExtent } from "#core/access/permissions.ts";
import type { RoleRow } from "#server/people/roles.ts";

/** A role as it is being changed in this browser, before it is kept. */
export interface RoleDraft {
  held: readonly Held[];
  changed: Permission[];
  set(permission: Permission, extent: Extent): void;
  reset(): void;
}

/** What is being changed of the chosen role; choosing another begins anew. */
export function useRoleDraft(role: RoleRow | null): RoleDraft {
  const [state, setState] = useState<{ key: string; held: readonly Held[] } | null>(null);
  const stored = role?.permissions ?? [];
  const held = state && state.key === role?.key ? state.held : stored;
  const differs = new Set([...held, ...stored].map((one) => one.replace(/\.own$/, "") as Permission));
  return {
    held,
    changed: [...differs].filter((permission) => extentOf(held, permission) !== extentOf(stored, permission)),
    set: (permission, extent) => role && setState({ key: role.key, held: withExtent(held, permission, extent) }),
    reset: () => setState(null),
  };
}

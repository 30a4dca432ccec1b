import type { Temporal as Library } from "temporal-polyfill";

const own = (globalThis as { Temporal?: typeof Library }).Temporal;

/** Dates with their zones as the browser has them itself; from the library in one that does not. */
export const Temporal: typeof Library = own ?? (await import("temporal-polyfill")).Temporal;

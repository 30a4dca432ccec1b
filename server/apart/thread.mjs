// Where a thread begins: it may be started from a bundle or a test, so it sees to TypeScript itself.
import { register } from "tsx/esm/api";

register();
const work = await import("./work.ts");

/** Runs one of the functions of `work.ts`. */
export default ({ name, input }) => work[name](input);

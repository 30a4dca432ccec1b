import * as work from "./work.ts";

interface Task {
  name: keyof typeof work;
  input: never;
}

/** Where a thread begins: runs one of the functions of `work.ts`. */
export default ({ name, input }: Task) => work[name](input);

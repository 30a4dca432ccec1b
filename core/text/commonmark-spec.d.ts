/** The examples of the CommonMark specification, 0.31.2. */
declare module "commonmark-spec" {
  const spec: { tests: { number: number; section: string; markdown: string; html: string }[] };
  export default spec;
}

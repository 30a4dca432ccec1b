export * from "./files.ts";
export * from "./people.ts";
export * from "./pieces.ts";
export * from "./publication.ts";
export * from "./record.ts";
export * from "./remarks.ts";
export * from "./search.ts";
export * from "./together.ts";

import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { brotliDecompressSync, gunzipSync } from "node:zlib";
import { pack } from "./pack.ts";

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), "elenco-pack-"));
});
afterEach(() => rmSync(folder, { recursive: true }));

test("scripts and styles are packed beside themselves, in folders too, and come out as they were", () => {
  const script = "export const words = 1;\n".repeat(200);
  mkdirSync(path.join(folder, "assets"));
  const file = path.join(folder, "assets", "page.js");
  writeFileSync(file, script);
  pack(folder);
  expect(readFileSync(file, "utf8")).toBe(script);
  expect(brotliDecompressSync(readFileSync(`${file}.br`)).toString()).toBe(script);
  expect(gunzipSync(readFileSync(`${file}.gz`)).toString()).toBe(script);
  expect(readFileSync(`${file}.br`).length).toBeLessThan(script.length);
});

test("what is small, or packed by its nature, is left alone; packing again packs nothing twice", () => {
  writeFileSync(path.join(folder, "small.js"), "1");
  writeFileSync(path.join(folder, "font.woff2"), Buffer.alloc(5_000));
  writeFileSync(path.join(folder, "page.css"), "a{color:red}".repeat(200));
  pack(folder);
  pack(folder);
  expect(readdirSync(folder).sort()).toEqual(["font.woff2", "page.css", "page.css.br", "page.css.gz", "small.js"]);
});

import { test as base } from "@playwright/test";
import type { House } from "../support/houses.ts";

export {
  type APIRequestContext,
  type Browser,
  type BrowserContext,
  expect,
  type Locator,
  type Page,
  type Route,
} from "@playwright/test";

let known: { of: string; house: Promise<House> } | undefined;

/** The publication of a spec and of one repetition of it, opened as its first walk begins. */
function houseOf(file: string, worker: number): Promise<House> {
  if (known?.of !== file) known = { of: file, house: ask(file, worker) };
  return known.house;
}

async function ask(file: string, worker: number): Promise<House> {
  const answer = await fetch(`${process.env.ELENCO_HOUSES}/?${new URLSearchParams({ file, worker: String(worker) })}`);
  if (!answer.ok) throw new Error(`no publication for ${file}: ${await answer.text()}`);
  return (await answer.json()) as House;
}

/** A walk through a publication that this spec has for itself: pages are on it without being told. */
export const test = base.extend<{ house: House }>({
  house: async ({ browserName: _ }, use, { file, repeatEachIndex, parallelIndex }) =>
    use(await houseOf(`${file} ${repeatEachIndex} ${process.ppid}`, parallelIndex)),
  baseURL: async ({ house }, use) => use(house.url),
});

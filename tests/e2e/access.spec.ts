import routes from "../../app/routes.ts";
import { type APIRequestContext, type Browser, expect, type Page, test } from "./house.ts";
import { beginItem, choose, linkInMail, newPage, send, signIn, write } from "./person.ts";
import { ROUTES, VISITORS, type Visitor } from "./routes.ts";

interface Node {
  path?: string;
  index?: boolean;
  file: string;
  children?: Node[];
}

/** Every route as the code declares it: layouts without a path are passed through. */
function declared(nodes: readonly Node[], above = ""): string[] {
  return nodes.flatMap((node) => {
    const path = [above, node.path].filter(Boolean).join("/");
    const own = node.path !== undefined || node.index ? [node.index && path ? `${path}/` : path] : [];
    return [...(node.path === undefined && node.children ? [] : own), ...declared(node.children ?? [], path)];
  });
}

let chief: Page;
let slug: string;
let guest: string;
let file: string;
const visitors = new Map<Visitor, APIRequestContext>();

test.beforeAll(async ({ browser }) => {
  chief = await signIn(browser, "Ilda Marenzi");
  const tobia = await signIn(browser, "Tobia Rensk");
  slug = (await beginItem(tobia, "Who may see this")).split("/pieces/")[1] ?? "";
  await write(tobia, " A few words.");
  file = await bringFile(tobia, slug);
  await send(tobia, "Send for copy edit", async (page) => {
    await page.getByLabel(/^Note/).fill("As agreed.");
  });
  await chief.goto(`/pieces/${slug}?do=guests`);
  await chief.getByLabel("Whom you let in").fill("A guest");
  await chief.getByRole("button", { name: "Make a link" }).click();
  guest = (await chief.getByLabel("The guest’s link").inputValue()).split("/guest/")[1] ?? "";
  for (const who of VISITORS) visitors.set(who, await visitor(browser, who));
});

/** Brings a small file to a piece, as its page does. @returns its id */
async function bringFile(page: Page, slug: string): Promise<string> {
  const { origin } = new URL(page.url());
  const pieceId = await page.locator("input[name=pieceId]").first().inputValue();
  const said = { name: "notes.txt", description: "", credit: "Tobia Rensk", licence: "Own work" };
  const answer = await page.request.post(`/pieces/${slug}/files`, {
    headers: { Origin: origin },
    multipart: {
      intent: "attach",
      pieceId,
      ...said,
      file: { name: "notes.txt", mimeType: "text/plain", buffer: Buffer.from(`Ask the warden about ${slug}.`) },
    },
  });
  return ((await answer.json()) as { file: string }).file;
}

/** A browser that asks as somebody: with their cookie, whatever became of them since. */
async function visitor(browser: Browser, who: Visitor): Promise<APIRequestContext> {
  if (who === "nobody") return (await browser.newContext()).request;
  if (who !== "expired" && who !== "ended") return (await signIn(browser, who)).context().request;
  const page = await join(
    browser,
    `Former ${who}`,
    `${who}@fontelba.example`,
    who === "ended" ? "Managing editor" : "",
  );
  const key = `/people/who/former${who === "ended" ? "-2" : ""}`;
  await chief.goto(key);
  if (who === "ended") {
    await chief.getByRole("link", { name: "End their access" }).click();
    await chief.getByRole("button", { name: /^End .* access$/ }).click();
    await expect(chief.getByText(/^Access ended/)).toBeVisible();
  }
  return page.context().request;
}

/** Somebody new: invited, and come in by the link in their mail. */
async function join(browser: Browser, name: string, email: string, role: string): Promise<Page> {
  await chief.goto("/people?do=invite");
  await chief.getByLabel("Name", { exact: true }).fill(name);
  await chief.getByLabel("Mail address").fill(email);
  if (role) await choose(chief.getByLabel("Role", { exact: true }), role);
  await chief.getByRole("button", { name: "Send the invitation" }).click();
  await chief.waitForURL(/\/people\/who\//);
  const page = await newPage(await browser.newContext());
  await page.goto(await linkInMail(chief, email, /\/open\/\S+/));
  await page.getByLabel("Password").fill("a long enough phrase");
  await page.getByRole("button", { name: "Join" }).click();
  await page.waitForURL("**/turn");
  return page;
}

test("the table of routes names every route of the application", () => {
  expect([...new Set(declared(routes as Node[]))].sort()).toEqual(Object.keys(ROUTES).sort());
});

/** What an answer amounts to; anything else is a fault of ours. */
const SAID: Record<number, string> = { 200: "an answer", 404: "nothing there", 405: "nothing there" };

for (const who of VISITORS) {
  test(`every route, asked as ${who}`, async () => {
    const request = visitors.get(who) as APIRequestContext;
    const answers: Record<string, string> = {};
    const expected: Record<string, string> = {};
    const known = who !== "nobody" && who !== "ended";
    for (const [path, { address, may, open }] of Object.entries(ROUTES)) {
      const asked = address.replace("SLUG", slug).replace("GUEST", guest).replace("FILE", file);
      const answer = await request.get(asked, { headers: { Accept: "text/html" } });
      const atTheDoor = new URL(answer.url()).pathname === "/sign-in" && path !== "sign-in";
      answers[path] = atTheDoor ? "the door" : (SAID[answer.status()] ?? `error ${answer.status()}`);
      expected[path] = may.includes(who) ? "an answer" : open || known ? "nothing there" : "the door";
    }
    // A form's address has no page: it answers that to everybody alike.
    for (const path of ["workflows/:key/save", "pieces/:slug/files", "pieces/:slug/look"])
      expected[path] = "nothing there";
    expect(answers).toEqual(expected);
  });
}

test("forms sent as somebody who may not are turned away, whatever they hold", async ({ baseURL }) => {
  const forged = [
    "/people?index",
    "/people/roles",
    "/people/groups",
    "/publication/sections",
    "/publication/kinds",
    "/publication/record",
    "/people/who/noor",
    "/workflows",
  ];
  for (const who of ["Tobia Rensk", "Kai Wendt", "expired", "ended", "nobody"] as const) {
    for (const address of forged) {
      const request = visitors.get(who) as APIRequestContext;
      const form = { intent: "add", name: "Forged", roleKey: "chief", email: "x@x.example" };
      const answer = await request.post(address, { form, headers: { Origin: baseURL ?? "" }, maxRedirects: 0 });
      expect([who, address, [302, 404].includes(answer.status())]).toEqual([who, address, true]);
    }
  }
  await chief.goto("/people");
  await expect(chief.getByText("Forged")).toHaveCount(0);
});

test("a guest's link with its last letter changed opens nothing; the right one opens nothing but its piece", async () => {
  const request = visitors.get("nobody") as APIRequestContext;
  const changed = guest.slice(0, -1) + (guest.endsWith("A") ? "Q" : "A");
  expect((await request.get(`/guest/${changed}`)).status()).toBe(404);
  expect((await request.get(`/guest/${guest}`)).status()).toBe(200);
  expect(new URL((await request.get(`/pieces/${slug}`)).url()).pathname).toBe("/sign-in");
});

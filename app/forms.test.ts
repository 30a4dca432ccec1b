import { redirect } from "react-router";
import { z } from "zod";
import { browserOf, keepSession, whereTo } from "./browser.ts";
import { type FormAnswer, fieldErrors } from "./form-answer.ts";
import { formKeyOf } from "./forms.ts";
import { grantFields } from "./grant-form.ts";
import { ledgerFilter } from "./ledger-filter.ts";
import { answered, guarded, misread, readForm, runCommand } from "./request.ts";
import { open, PEOPLE_ROOMS, PLACES, PUBLICATION_ROOMS } from "./views/frame/places.ts";

const ROME = "Europe/Rome";
const form = (entries: [string, string][]) => {
  const data = new FormData();
  for (const [name, value] of entries) data.append(name, value);
  return data;
};

test.each<[string, string]>([
  ["", "/turn"],
  ["?to=/pieces/winter", "/pieces/winter"],
  ["?to=%2Fpieces%3Flate%3Dyes", "/pieces?late=yes"],
  ["?to=//elsewhere.example", "/turn"],
  ["?to=/%5Celsewhere.example", "/turn"],
  ["?to=https://elsewhere.example", "/turn"],
  ["?to=javascript:alert(1)", "/turn"],
  ["?to=/%09/elsewhere.example", "/turn"],
  ["?to=/%0A/elsewhere.example", "/turn"],
  ["?to=%09//elsewhere.example", "/turn"],
  ["?to=/%09%5Celsewhere.example", "/turn"],
  ["?to=/..//elsewhere.example", "/turn"],
  ["?to=pieces", "/turn"],
])("after signing in nobody is led out of the house: %s", (search, to) => {
  expect(whereTo(new Request(`http://elenco.test/sign-in${search}`))).toBe(to);
});

test.each<[string, boolean]>([
  ["http://127.0.0.1:4300", false],
  ["https://elenco.example", true],
])("the cookie at %s is kept from scripts, and from plain connections where there are better", (baseUrl, secure) => {
  const context = { baseUrl, address: "10.0.0.1", agent: "x", browserToken: "known", secret: "old" } as Parameters<
    typeof keepSession
  >[0];
  const cookie = keepSession(context, "s").get("Set-Cookie") ?? "";
  expect(cookie).toContain("; HttpOnly; ");
  expect(cookie).toContain("SameSite=Lax");
  expect(cookie.includes("Secure")).toBe(secure);
  expect(cookie.startsWith("__Host-elenco=s; ")).toBe(secure);
  expect(browserOf(context)).toEqual({ address: "10.0.0.1", agent: "x", token: "known", session: "old" });
  expect(browserOf({ ...context, browserToken: null }).token).toHaveLength(43);
});

test.each<[string, Error, string, number]>([
  ["the session is over", redirect("/sign-in?to=/turn") as never, "signed-out", 401],
  ["the database is away", Object.assign(new Error("x"), { code: "ECONNREFUSED" }), "away", 503],
  ["the disk of files is full", Object.assign(new Error("x"), { code: "ENOSPC" }), "full", 507],
  [
    "the database’s disk is full",
    new Error("x", { cause: Object.assign(new Error("y"), { errno: 1021 }) }),
    "full",
    507,
  ],
])("where %s, a form is answered where it was sent", async (_, thrown, code, status) => {
  const action = guarded(async () => {
    throw thrown;
  });
  const request = new Request("http://elenco.test/x", {
    method: "POST",
    body: new URLSearchParams({ intent: "keep" }),
  });
  const { data, init } = (await action({ request })) as unknown as { data: FormAnswer; init: ResponseInit };
  expect([data.intent, data.refusal?.code, init.status]).toEqual(["keep", code, status]);
});

test("what is wrong with all of a form is a refusal, what is with a field stands there", () => {
  const form = new FormData();
  for (let i = 0; i < 2_001; i++) form.append(`k${i}`, "");
  const read = readForm(z.object({}), form);
  const { data } = misread("keep", "fields" in read ? read.fields : {});
  expect(data).toEqual({
    intent: "keep",
    refusal: { code: "form", sentence: "A form holds 2000 values at most." },
    fields: {},
  });
});

test("a form is read by its schema: lists by their brackets, a name sent twice by its last value, a sentence for each field", () => {
  const schema = z.object({
    title: z.string().min(1, "A title."),
    who: z.array(z.string()).default([]),
    n: z.coerce.number("A number."),
  });
  expect(
    readForm(
      schema,
      form([
        ["title", "x"],
        ["who[]", "a"],
        ["who[]", "b"],
        ["n", "1"],
        ["n", "2"],
      ]),
    ),
  ).toEqual({
    values: { title: "x", who: ["a", "b"], n: 2 },
  });
  expect(
    readForm(
      schema,
      form([
        ["title", ""],
        ["n", "many"],
      ]),
    ),
  ).toEqual({ fields: { title: "A title.", n: "A number." } });
});

test("a refusal goes back to the form it came from, to its field where it has one", async () => {
  const refusal = { code: "taken", field: "name", sentence: "There is one." };
  const done = await runCommand("add", async () => ({ ok: false, refusal }));
  const answer = "data" in done ? done.data : null;
  expect(fieldErrors(answer, "add")).toEqual({ name: "There is one." });
  expect(fieldErrors(answer, "save")).toEqual({});
  expect(fieldErrors(answered("add"), "add")).toEqual({});
  expect("init" in done && done.init?.status).toBe(422);
  const stale = await runCommand("save", async () => ({ ok: false, refusal: { code: "stale", sentence: "Changed." } }));
  expect("init" in stale && stale.init?.status).toBe(409);
  await expect(
    runCommand("x", async () => ({ ok: false, refusal: { code: "not-found", sentence: "" } })),
  ).rejects.toMatchObject({
    init: { status: 404 },
  });
});

test("days of a grant are the publication's, the last one included; a clock change makes no difference", () => {
  const schema = z.object(grantFields(ROME));
  const read = (from: string, until: string) => {
    const found = readForm(
      schema,
      form([
        ["roleKey", "web"],
        ["from", from],
        ["until", until],
      ]),
    );
    return "fields" in found
      ? found.fields
      : [found.values.from, found.values.until].map((at) => at && new Date(at).toISOString());
  };
  expect(read("2026-12-01", "2026-12-31")).toEqual(["2026-11-30T23:00:00.000Z", "2026-12-31T23:00:00.000Z"]);
  expect(read("2026-03-29", "2026-03-29")).toEqual(["2026-03-28T23:00:00.000Z", "2026-03-29T22:00:00.000Z"]);
  expect(read("", "")).toEqual([null, null]);
  expect(read("soon", "2026-02-30")).toEqual({ from: "This is no date.", until: "This is no date." });
});

test.each<[string, ReturnType<typeof ledgerFilter>]>([
  ["", {}],
  ["person=noor&action=role.&piece=winter", { person: "noor", action: "role.", piece: "winter" }],
  [
    "from=2026-11-24&until=2026-11-24",
    { from: Date.parse("2026-11-23T23:00Z"), until: Date.parse("2026-11-24T23:00Z") },
  ],
  ["from=soon&until=&person=%20%20", {}],
  ["before=41", { before: 41 }],
  ["before=-1", {}],
])("the record's address %s narrows it", (words, expected) => {
  const found = Object.entries(ledgerFilter(new URLSearchParams(words), ROME)).filter(
    ([, value]) => value !== undefined,
  );
  expect(Object.fromEntries(found)).toEqual(expected);
});

test.each<[string, string[], string[], string[]]>([
  ["nothing", [], ["/turn", "/intake", "/pieces", "/schedule", "/editions", "/flow"], []],
  [
    "workflow.edit",
    ["workflow.edit"],
    ["/turn", "/intake", "/pieces", "/schedule", "/editions", "/flow", "/workflows", "/publication"],
    ["/publication/rules"],
  ],
  [
    "section.edit",
    ["section.edit"],
    ["/turn", "/intake", "/pieces", "/schedule", "/editions", "/flow", "/publication"],
    ["/publication/sections", "/publication/kinds"],
  ],
  [
    "ledger.read",
    ["ledger.read"],
    ["/turn", "/intake", "/pieces", "/schedule", "/editions", "/flow", "/publication"],
    ["/publication/record"],
  ],
])("who may %s sees only the places that are theirs", (_, permissions, places, rooms) => {
  const grant = { id: "g", group: null, roleKey: "r", roleName: "R", permissions, scope: { kind: "publication" } };
  const always = { from: null, until: null, publishFrom: null, publishUntil: null };
  const who = { id: "x", key: "x", active: true, grants: [{ ...grant, ...always }] } as unknown as Parameters<
    typeof open
  >[1];
  expect(open(PLACES, who, 0).map((place) => place.to)).toEqual(places);
  expect(open([...PEOPLE_ROOMS, ...PUBLICATION_ROOMS], who, 0).map((place) => place.to)).toEqual(rooms);
});

test("a form sent twice has one key, another of the same page its own, and none where the page gave none", () => {
  const formKey = "01a20000-0000-7000-8000-000000000001";
  const key = (more: [string, string][], given = formKey) => formKeyOf(form([["formKey", given], ...more]));
  const remark = key([["intent", "remark"]]);
  expect(z.uuid().safeParse(remark).success).toBe(true);
  expect(key([["intent", "remark"]])).toBe(remark);
  expect(key([["intent", "leave"]])).not.toBe(remark);
  expect(key([["intent", "remark"]], "01a20000-0000-7000-8000-000000000002")).not.toBe(remark);
  expect(key([["intent", "remark"]], "x")).toBeUndefined();
});

import { getSchema } from "@tiptap/core";
import { Fragment, Slice } from "@tiptap/pm/model";
import { manuscriptSchema } from "#core/text/schema.ts";
import { EXTENSIONS } from "./extensions.ts";
import { cleanPasted, manuscriptOf } from "./words.ts";

test("the editor writes exactly what the core reads", () => {
  const editor = getSchema(EXTENSIONS);
  expect(Object.keys(editor.nodes).sort()).toEqual(Object.keys(manuscriptSchema.nodes).sort());
  expect(Object.keys(editor.marks).sort()).toEqual(Object.keys(manuscriptSchema.marks).sort());
});

describe("what is pasted", () => {
  const file = "ab".repeat(32);
  const paste = (html: string) => {
    const said: string[] = [];
    return { html: cleanPasted(html, (sentences) => said.push(...sentences)), said };
  };

  test("a picture kept here comes along with its words; any other is left out and said", () => {
    const kept = `<figure><img src="https://elenco.example/files/${file}?width=960" alt="A hut"><figcaption>Lit<small>G. F.</small></figcaption></figure>`;
    const ours = paste(`<p>Soup.</p>${kept}`);
    expect(ours.said).toEqual([]);
    expect(ours.html).toContain(`src="/files/${file}"`);
    expect(ours.html).toMatch(/alt="A hut".*<figcaption>Lit<small>G. F.<\/small>/);
    const foreign = paste('<p>Soup.</p><img src="https://elsewhere.example/a.jpg" onerror="alert(1)">');
    expect(foreign).toEqual({ html: "<p>Soup.</p>", said: ["One picture could not be kept."] });
  });

  test("a title in what is pasted becomes a heading, and what the editor itself copied is left as it is", () => {
    expect(paste("<h1>Ways up</h1><p>By bus.</p>").html).toBe("<h2>Ways up</h2><p>By bus.</p>");
    const own = '<p data-pm-slice="1 1 []"><strong>bold</strong></p>';
    expect(paste(own)).toEqual({ html: own, said: [] });
  });
});

test("a block the editor did not touch stays the same object, so that counting costs only what changed", () => {
  const schema = getSchema(EXTENSIONS);
  const doc = schema.nodeFromJSON({
    type: "doc",
    content: ["One.", "Two."].map((text) => ({ type: "paragraph", content: [{ type: "text", text }] })),
  });
  const next = doc.replace(1, 5, new Slice(Fragment.from(schema.text("Uno.")), 0, 0));
  const [before, after] = [manuscriptOf(doc), manuscriptOf(next)];
  expect(after.content[1]).toBe(before.content[1]);
  expect(after.content[0]).toEqual({ type: "paragraph", content: [{ type: "text", text: "Uno." }] });
});

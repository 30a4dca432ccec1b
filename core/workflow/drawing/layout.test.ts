import { readFileSync } from "node:fs";
import { readShape, type Workflow } from "../document.ts";
import { addState, addTransition, emptyWorkflow, moveState, switchState } from "../editing/edit.ts";
import { arcHeight, fitting, layOut, PITCH, shapeOf } from "./layout.ts";

const read = (key: string): Workflow => {
  const shape = readShape(JSON.parse(readFileSync(`demo/workflows/${key}.json`, "utf8")));
  if ("problems" in shape) throw new Error(JSON.stringify(shape.problems));
  return shape.workflow;
};
const WIDE = 2_000;

/** A line of so many stops. */
function lineOf(stops: number): Workflow {
  let line = emptyWorkflow("line", "Line");
  for (let i = stops - 2; i > 0; i--) line = addState(line, `Stop ${i}`, "writing", "draft", "checker").workflow;
  return line;
}

test("the main line is straight: its stops stand one pitch apart at one height, joined by their steps", () => {
  const { stops, rails } = layOut(read("route-guide"), WIDE);
  const onLine = stops.filter((stop) => stop.order !== null);
  expect(new Set(onLine.map((stop) => stop.y)).size).toBe(1);
  expect(onLine.slice(1).map((stop, i) => stop.x - (onLine[i]?.x ?? 0))).toEqual(onLine.slice(1).map(() => PITCH));
  expect(rails.map((rail) => rail.steps[0]?.name)).toEqual([
    "Send for route check",
    "Route is right",
    "Copy is right",
    "Safe to publish",
    "Release",
  ]);
  expect(rails.every((rail) => rail.turnsAt === null)).toBe(true);
});

test("returns are arcs, the short ones below the long ones, and no two meet", () => {
  const { branches, stops } = layOut(read("route-guide"), WIDE);
  expect(branches.map((one) => [one.step.name, one.level])).toEqual([
    ["Needs work", 1],
    ["Wording unsafe", 1],
    ["Back to the writer", 2],
    ["Take back to draft", 3],
    ["Revise", 4],
  ]);
  const rail = stops[0]?.y ?? 0;
  expect(arcHeight(4)).toBeLessThan(rail);
  const spans = branches.map(({ from, to, level }) => ({
    level,
    low: Math.min(from.x, to.x),
    high: Math.max(from.x, to.x),
  }));
  for (const [i, a] of spans.entries())
    for (const b of spans.slice(i + 1)) expect(a.level === b.level && a.low < b.high && b.low < a.high).toBe(false);
});

test("what lies beside the line hangs below the stop its pieces come from", () => {
  const { sidings, stops } = layOut(read("hut-page"), WIDE);
  const draft = stops.find((stop) => stop.state.key === "draft");
  expect(sidings.map((one) => [one.stop.state.name, one.from.state.name, one.step?.name])).toEqual([
    ["Set aside", "Draft", "Set aside"],
    ["Dropped", "Draft", "Drop"],
  ]);
  for (const { stop } of sidings) expect(stop.y).toBeGreaterThan(draft?.y ?? 0);
});

test.each([
  [3, 1],
  [8, 2],
  [25, 5],
])("a line of %i stops in a place for six takes %i rows, each turning into the next", (stops, rows) => {
  const drawn = layOut(lineOf(stops), 2 * 70 + 5 * PITCH);
  expect(new Set(drawn.stops.map((stop) => stop.y)).size).toBe(rows);
  const turns = drawn.rails.filter((rail) => rail.turnsAt !== null);
  expect(turns).toHaveLength(rows - 1);
  for (const { from, to, turnsAt } of turns) {
    expect(turnsAt).toBeGreaterThan(from.y);
    expect(turnsAt).toBeLessThan(to.y);
  }
});

test("a step to another row is a stub that keeps clear of the arcs beside it", () => {
  const line = addTransition(lineOf(9), "Far back", "stop-6", "draft").workflow;
  const { branches } = layOut(line, 2 * 70 + 5 * PITCH);
  expect(branches.find((one) => one.step.name === "Far back")).toMatchObject({ stub: true, level: 1 });
});

test("fitting keeps a short line whole in one row, and a long one readable", () => {
  const place = { width: 772, height: 560 };
  expect(fitting(lineOf(3), place)).toBe(1);
  const six = fitting(read("route-guide"), place);
  expect(six).toBeGreaterThan(0.9);
  expect(layOut(read("route-guide"), place.width / six).rails.every((rail) => rail.turnsAt === null)).toBe(true);
  const long = fitting(lineOf(25), place);
  expect(long).toBeGreaterThanOrEqual(0.62);
  expect(layOut(lineOf(25), place.width / long).height * long).toBeLessThanOrEqual(place.height);
});

test("names, times and switches leave the shape as it is; a stop moved does not", () => {
  const guide = read("route-guide");
  expect(shapeOf(switchState({ ...guide, name: "Other" }, "copy-edit", true))).toBe(shapeOf(guide));
  expect(shapeOf(moveState(guide, "copy-edit", "route-check"))).not.toBe(shapeOf(guide));
});

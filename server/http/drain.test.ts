import { randomBytes } from "node:crypto";
import { once } from "node:events";
import type { AddressInfo } from "node:net";
import compression from "compression";
import express, { type RequestHandler, type Response } from "express";
import { drainsOnce } from "./drain.ts";

/** Waits as the router's own writer does. */
const drained = (response: Response) => new Promise<void>((done) => response.once("drain", done));

/** Sends forty pieces that fill the pipe each time. @returns how much arrived, and how many listeners were left on it */
async function sent(...between: RequestHandler[]): Promise<{ bytes: number; listeners: number }> {
  let listeners = 0;
  const counting: RequestHandler = (_, response, next) => {
    const { on } = response;
    response.on = (type: string | symbol, listener: (...told: never[]) => void) => {
      if (type === "drain") listeners++;
      return on.call(response, type, listener as () => void);
    };
    next();
  };
  const app = express();
  app.use(compression(), counting, ...between);
  app.get("/", async (_, response) => {
    response.type("text");
    for (let i = 0; i < 40; i++) if (!response.write(randomBytes(40_000).toString("hex"))) await drained(response);
    response.end();
  });
  const server = app.listen(0, "127.0.0.1");
  await once(server, "listening");
  const { port } = server.address() as AddressInfo;
  const answer = await fetch(`http://127.0.0.1:${port}/`, { headers: { "accept-encoding": "gzip" } });
  const { length } = await answer.text();
  await new Promise((done) => server.close(done));
  return { bytes: length, listeners };
}

test("a long compressed answer leaves one listener behind, however often it waits", async () => {
  expect((await sent()).listeners).toBeGreaterThan(10);
  expect(await sent(drainsOnce)).toEqual({ bytes: 40 * 80_000, listeners: 1 });
});

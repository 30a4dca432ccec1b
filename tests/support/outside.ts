import http from "node:http";

/** A service outside that answers what it is told to, on loopback. */
export async function outside(answers: number[]) {
  const heard: { body: string; headers: http.IncomingHttpHeaders }[] = [];
  const server = http.createServer((request, response) => {
    let body = "";
    request.on("data", (part) => (body += part));
    request.on("end", () => {
      heard.push({ body, headers: request.headers });
      const status = answers.shift() ?? 200;
      response.writeHead(status, status === 302 ? { Location: "http://127.0.0.1:1/" } : {}).end("ok");
    });
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const { port } = server.address() as { port: number };
  return { heard, base: `http://127.0.0.1:${port}`, stop: () => server.close() };
}

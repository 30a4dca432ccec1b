import http from "node:http";

/** A status, or what is done with the response. */
type Says = number | ((response: http.ServerResponse) => void);

/** A service outside that answers what it is told to, on loopback. */
export async function outside(answers: Says[]) {
  const heard: { body: string; headers: http.IncomingHttpHeaders }[] = [];
  const server = http.createServer((request, response) => {
    let body = "";
    request.on("data", (part) => (body += part));
    request.on("end", () => {
      heard.push({ body, headers: request.headers });
      const status = answers.shift() ?? 200;
      if (typeof status === "function") return status(response);
      response.writeHead(status, status === 302 ? { Location: "http://127.0.0.1:1/" } : {}).end("ok");
    });
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const stop = () => {
    server.closeAllConnections();
    server.close();
  };
  const { port } = server.address() as { port: number };
  return { heard, base: `http://127.0.0.1:${port}`, stop };
}

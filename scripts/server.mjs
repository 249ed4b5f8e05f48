// The application behind an HTTP server of its own: node scripts/server.mjs -H HOST -p PORT.
// What a stranger can do to the machine is bounded here, before anything of the application runs.
import { createServer } from "node:http";
import next from "next";
import { options, root } from "./lib.mjs";
import { inItsWriting } from "./writing.mjs";

const { H: hostname = "127.0.0.1", p: port = "3000" } = short(process.argv.slice(2));
/** The largest request that any address takes: a load of a hundred thousand lines. */
const MOST_BYTES = 66 * 1_048_576;
/** How many proxies of our own stand before us; each adds the address that it saw to the header. */
const PROXIES = Number(process.env.YELLOW_ANCHOR_PROXIES ?? 0);
const HTTPS = process.env.YELLOW_ANCHOR_HTTPS === "1";

const application = next({ dev: false, dir: root, hostname, port: Number(port) });
await application.prepare();
const handle = application.getRequestHandler();

const server = createServer(
  {
    // A request that does not come to an end is ended: headers after ten seconds, bodies after thirty.
    headersTimeout: 10_000,
    requestTimeout: 30_000,
    connectionsCheckingInterval: 2_000,
    keepAliveTimeout: 10_000,
    maxHeaderSize: 16_384,
  },
  (request, response) => {
    request.headers["x-forwarded-for"] = addressOf(request);
    if (HTTPS)
      response.setHeader("Strict-Transport-Security", "max-age=31536000; includeSubDomains");
    if (Number(request.headers["content-length"] ?? 0) > MOST_BYTES) {
      response.writeHead(413, { Connection: "close" }).end();
      return;
    }
    inItsWriting(request, () => handle(request, response)).catch((error) => {
      process.stderr.write(`${error instanceof Error ? error.stack : String(error)}\n`);
      if (!response.headersSent) response.writeHead(500);
      response.end();
    });
  },
);
server.maxConnections = 2_000;
server.on("error", (error) => {
  process.stderr.write(
    error.code === "EADDRINUSE"
      ? `\nPort ${port} is in use by another program. Choose another one with --port.\n\n`
      : `${error.stack}\n`,
  );
  process.exit(3);
});
server.listen(Number(port), hostname);

/**
 * Who is asking: the address of the socket. The header counts only as far as proxies of our own have
 * written it; what stands before that, anybody may have made up.
 */
function addressOf(request) {
  const socket = request.socket.remoteAddress ?? "unknown";
  if (PROXIES < 1) return socket;
  const seen = String(request.headers["x-forwarded-for"] ?? "")
    .split(",")
    .map((a) => a.trim())
    .filter((a) => a !== "");
  return seen.at(-PROXIES) ?? socket;
}

function short(argv) {
  return options(argv.map((a) => (/^-[Hp]$/.test(a) ? `-${a}` : a)));
}

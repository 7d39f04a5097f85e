/** The web server: on 127.0.0.1 only, with Host and Origin checked and a strict Content-Security-Policy. */
import { randomBytes } from "node:crypto";
import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import next from "next";
import { SideTwinError } from "@/core/errors";

export type WebServer = { readonly url: string; readonly close: () => Promise<void> };

/** Serves the built pages of the folder. Throws SideTwinError when the port is taken. */
export async function startWebServer(options: { readonly port: number; readonly folder: string }): Promise<WebServer> {
  const app = next({ dev: false, dir: options.folder, hostname: "127.0.0.1", port: options.port });
  await app.prepare();
  // The framework names the process after itself, where a person looks for side-twin.
  process.title = "side-twin";
  const handle = app.getRequestHandler();
  const server = createServer((request, response) => {
    const refusal = refuse(request, portOf(server));
    if (refusal) {
      response.writeHead(403, { "content-type": "text/plain" }).end(refusal);
      return;
    }
    secure(request, response);
    handle(request, response).catch((error: unknown) => {
      process.stderr.write(`side-twin: ${error instanceof Error ? error.stack : error}\n`);
      if (!response.headersSent) response.writeHead(500);
      response.end();
    });
  });
  await listen(server, options.port);
  return {
    url: `http://127.0.0.1:${portOf(server)}`,
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}

function listen(server: Server, port: number): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once("error", (cause: NodeJS.ErrnoException) => {
      const taken = cause.code === "EADDRINUSE";
      const what = taken ? `Port ${port} is taken by another program` : `The server could not listen: ${cause.message}`;
      reject(
        new SideTwinError(
          { code: "already-running", what, next: "Choose another with --port N; 0 takes any free one." },
          cause,
        ),
      );
    });
    server.listen(port, "127.0.0.1", () => resolve());
  });
}

function portOf(server: Server): number {
  const address = server.address();
  return typeof address === "object" && address ? address.port : 0;
}

/** A page of another site can make a browser send requests here: its Host or Origin gives it away. */
function refuse(request: IncomingMessage, port: number): string | null {
  const own = new Set([`127.0.0.1:${port}`, `localhost:${port}`]);
  if (!own.has(request.headers.host ?? "")) return "Side Twin answers to 127.0.0.1 and localhost only.";
  const { origin } = request.headers;
  if (origin !== undefined && !own.has(origin.replace(/^http:\/\//, "")))
    return "Requests from other sites are refused.";
  const site = request.headers["sec-fetch-site"];
  if (site === "cross-site" && request.method !== "GET") return "Requests from other sites are refused.";
  return null;
}

function secure(request: IncomingMessage, response: ServerResponse): void {
  const nonce = randomBytes(16).toString("base64");
  const policy = [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    `style-src 'self' 'nonce-${nonce}'`,
    // Sizes and places of drawn parts are style attributes; they can load nothing.
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data:",
    "font-src 'self'",
    "connect-src 'self'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
  // The framework takes the nonce for its own scripts from this request header.
  request.headers["content-security-policy"] = policy;
  request.headers["x-nonce"] = nonce;
  response.setHeader("content-security-policy", policy);
  response.setHeader("x-content-type-options", "nosniff");
  response.setHeader("referrer-policy", "no-referrer");
}

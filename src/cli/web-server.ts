/** The web server: on 127.0.0.1 only, with Host and Origin checked and a strict Content-Security-Policy. */
import { randomBytes } from "node:crypto";
import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import next from "next";
import { SideTwinError } from "@/core/errors";
import { requestStarted } from "@/service/check/request-pace";

/** A listening server. */
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
      const error = { code: refusal.status === 403 ? "outside-folder" : "bad-input", what: refusal.what };
      response.writeHead(refusal.status, { "content-type": "application/json" }).end(JSON.stringify({ error }));
      return;
    }
    secure(request, response);
    response.once("close", requestStarted(request.url ?? ""));
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

type Refusal = { readonly status: 400 | 403 | 405 | 413; readonly what: string };

const METHODS = new Set(["GET", "HEAD", "POST", "PUT", "DELETE"]);
const OTHER_SITE: Refusal = { status: 403, what: "Requests from other sites are refused" };

/** A page of another site can make a browser send requests here: its Host, Origin or Sec-Fetch-Site gives it away. */
function refuse(request: IncomingMessage, port: number): Refusal | null {
  const own = new Set([`127.0.0.1:${port}`, `localhost:${port}`]);
  if (!own.has(request.headers.host ?? ""))
    return { status: 403, what: "Side Twin answers to 127.0.0.1 and localhost only" };
  const { method = "", url = "", headers } = request;
  if (!METHODS.has(method)) return { status: 405, what: `The method ${method} is not used here` };
  if (headers.origin !== undefined && !own.has(headers.origin.replace(/^http:\/\//, ""))) return OTHER_SITE;
  const site = headers["sec-fetch-site"];
  // Links from other sites may open a page, but not fetch data: an image tag on another site could do the same.
  const isPage = method === "GET" && !url.startsWith("/api/");
  if (site !== undefined && site !== "same-origin" && site !== "none" && !isPage) return OTHER_SITE;
  return refuseAddress(url);
}

function refuseAddress(url: string): Refusal | null {
  try {
    if (!decodeURIComponent(url.replaceAll("+", " ")).includes("\0")) return null;
  } catch {
    // A % without two hexadecimal digits after it, or bytes that are not UTF-8.
  }
  return { status: 400, what: "The address is malformed" };
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

import { homedir } from "node:os";
import path from "node:path";
import { Command, InvalidArgumentError } from "commander";
import { startWebServer, type WebServer } from "@/cli/web-server";
import { prepareDataFolder } from "@/service/port/output-file";
import { buildPages } from "@/service/server/build-pages";
import { setCurrentWorkbench } from "@/service/server/current";
import { bringDemoPorts } from "@/service/server/demo-ports";
import { Workbench } from "@/service/server/workbench";

type Options = { port: number; data: string; browse: string };

/** `side-twin serve`. */
export const serveCommand = (): Command =>
  withServerOptions(new Command("serve").description("start the web application on 127.0.0.1"), false);

/** `side-twin demo`: the same with demonstration ports. */
export const demoCommand = (): Command =>
  withServerOptions(new Command("demo").description("start it with the demo ports loaded"), true);

function withServerOptions(command: Command, demo: boolean): Command {
  return command
    .option("--port <n>", "the port; 0 takes any free one", portNumber, 4170)
    .option("--data <dir>", "where Side Twin keeps its own data", path.join(homedir(), ".side-twin"))
    .option("--browse <dir>", "the folder in which ports can be chosen", homedir())
    .action((options: Options) => serve(options, demo));
}

async function serve(options: Options, demo: boolean): Promise<void> {
  prepareDataFolder(options.data);
  const workbench = await Workbench.open({ data: path.resolve(options.data), browse: path.resolve(options.browse) });
  if (demo) await bringDemoPorts(workbench, path.resolve(options.data));
  const folder = await buildPages((line) => process.stderr.write(`${line}\n`));
  setCurrentWorkbench(workbench);
  // A request or check that fails unobserved must not end the others.
  process.on("unhandledRejection", (reason) => {
    process.stderr.write(
      `side-twin: a failure that nothing waited for: ${reason instanceof Error ? reason.stack : reason}\n`,
    );
  });
  const server = await startWebServer({ port: options.port, folder }).catch(async (error: unknown) => {
    await workbench.close();
    throw error;
  });
  process.stdout.write(`Side Twin is at ${server.url}\n`);
  let isStopping = false;
  const stop = () => {
    // On a second signal, or when closing takes too long. Everything shown as saved is already committed.
    if (isStopping) process.exit(1);
    isStopping = true;
    setTimeout(() => process.exit(1), MAX_CLOSING_MS).unref();
    close(server, workbench).then(
      () => process.exit(0),
      (error: unknown) => {
        process.stderr.write(`side-twin: ${error instanceof Error ? error.message : error}\n`);
        process.exit(1);
      },
    );
  };
  process.on("SIGINT", stop);
  process.on("SIGTERM", stop);
}

const MAX_CLOSING_MS = 10_000;

async function close(server: WebServer, workbench: Workbench): Promise<void> {
  await server.close();
  await workbench.close();
}

function portNumber(text: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 0 || value > 65_535)
    throw new InvalidArgumentError("a port from 0 to 65535 is wanted");
  return value;
}

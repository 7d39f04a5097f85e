import { homedir } from "node:os";
import path from "node:path";
import { Command, InvalidArgumentError } from "commander";
import { startWebServer } from "@/cli/web-server";
import { buildPages } from "@/service/build-pages";
import { setCurrentWorkbench } from "@/service/current";
import { bringDemoPorts } from "@/service/demo-ports";
import { Workbench } from "@/service/workbench/workbench";

type Options = { port: number; data: string; browse: string };

export const serveCommand = (): Command =>
  withServerOptions(new Command("serve").description("start the web application on 127.0.0.1"), false);

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
  const workbench = await Workbench.open({ data: path.resolve(options.data), browse: path.resolve(options.browse) });
  if (demo) await bringDemoPorts(workbench, path.resolve(options.data));
  const folder = await buildPages((line) => process.stderr.write(`${line}\n`));
  setCurrentWorkbench(workbench);
  const server = await startWebServer({ port: options.port, folder }).catch(async (error: unknown) => {
    await workbench.close();
    throw error;
  });
  process.stdout.write(`Side Twin is at ${server.url}\n`);
  const stop = async () => {
    await server.close();
    await workbench.close();
    process.exit(0);
  };
  process.once("SIGINT", stop);
  process.once("SIGTERM", stop);
}

function portNumber(text: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 0 || value > 65_535)
    throw new InvalidArgumentError("a port from 0 to 65535 is wanted");
  return value;
}

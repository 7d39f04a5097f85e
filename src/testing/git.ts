/** The real git in a test's folder, as somebody with a made-up name. */
import { execFileSync } from "node:child_process";

const AUTHOR = "Mara Quill";

export const gitIn =
  (folder: string) =>
  (...args: readonly string[]): string =>
    execFileSync("git", ["-c", `user.name=${AUTHOR}`, "-c", "user.email=mara@quill.example", ...args], {
      cwd: folder,
      encoding: "utf8",
    });

/** Settings of a port, read from its file and written into their place. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { changeSetting, settingsView } from "@/service/edits/settings";
import { openPort } from "@/service/port/open-port";
import { temporaryFolder } from "@/testing/temporary-port";

const TEXT = `{
  "format": "side-twin/port", "version": 1,
  "name": "Quays",
  "original": { "root": "original", "language": "python" },
  "twins": [{ "name": "js", "root": "twin", "language": "javascript", "run": ["node", "a.js"] }]
}
`;
const port = async () => {
  const folder = temporaryFolder({ "side-twin.json": TEXT, "original/m.py": "x = 1\n", "twin/m.js": "" });
  return { open: await openPort(folder), text: () => readFileSync(path.join(folder, "side-twin.json"), "utf8") };
};

describe("the settings", () => {
  it("have the port, the original and each twin, as JSON, and nothing where nothing is set", async () => {
    const { settings, name } = settingsView((await port()).open);
    const of = (key: string) => settings.find((entry) => entry.path.join(".") === key);
    expect(name).toBe("Quays");
    expect(of("twins.0.run")).toMatchObject({ text: '["node","a.js"]', group: "The twin js" });
    expect(of("original.run")?.text).toBeNull();
    expect(of("state")?.text).toBe('"fresh"');
  });

  it("are written into their own place, and taken out by an empty text", async () => {
    const { open, text } = await port();
    await changeSetting(open, { path: ["name"], text: '"Two quays"' });
    expect(text()).toBe(TEXT.replace("Quays", "Two quays"));
    await changeSetting(open, { path: ["twins", 0, "run"], text: "  " });
    expect(text()).not.toContain("run");
    expect(text()).toContain('"format": "side-twin/port", "version": 1,');
  });

  it("are refused with the key where they do not fit, and the file stays", async () => {
    const { open, text } = await port();
    const change = (at: (string | number)[], value: string) => changeSetting(open, { path: at, text: value });
    await expect(change(["limits"], "{oops}")).rejects.toMatchObject({ code: "bad-input", where: { key: "limits" } });
    await expect(change(["twins", 0, "run"], '"node"')).rejects.toMatchObject({ code: "bad-input" });
    await expect(change(["twins", 7, "run"], "[]")).rejects.toThrow(/no setting "twins\.7\.run"/);
    await expect(change(["allowances"], "[]")).rejects.toThrow(/no setting/);
    expect(text()).toBe(TEXT);
  });
});

/** Sections that a case names as the original does, and that a side has under another name. */
import { describe, expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const CLASS = `function Renderer() { this.rules = { em: "i" }; }
Renderer.prototype.renderAttrs = function (token) { return Object.entries(token.attrs).map(([k, v]) => " " + k + "=" + v).join(""); };
Renderer.prototype.render = function (tokens) { return tokens.map((t) => t.tag + this.renderAttrs(t)).join("|"); };
`;
const TWIN = `class RendererProtocol:
    def render(self, tokens):
        ...
class RendererHTML(RendererProtocol):
    def __init__(self):
        self.rules = {"em": "i"}
    def render_attrs(self, token):
        return "".join(" %s=%s" % (k, v) for k, v in token["attrs"].items())
    def render(self, tokens):
        return "|".join(t["tag"] + self.render_attrs(t) for t in tokens)
`;
const steps = (name: string) => [
  { new: name, as: "r" },
  { call: "render", on: "r", args: [[{ tag: "p", attrs: { a: "b" } }]] },
  { call: "renderAttrs", on: "r", args: [{ tag: "p", attrs: { c: "d" } }] },
];
const port = (original: string, twin: string, name = "Renderer") =>
  temporaryFolder({
    "side-twin.json": portFile({
      original: { root: "original", language: "javascript" },
      twins: [{ name: "py", root: "twin", language: "python" }],
      names: { functions: "camel-to-snake" },
    }),
    "original/renderer.js": original,
    "twin/renderer.py": twin,
    "cases/c.jsonl": [{ id: "r", module: "renderer", steps: steps(name) }],
  });

describe("a class under another name", () => {
  it.each([
    ["the twin's is longer", `${CLASS}module.exports = Renderer;`, TWIN, "Renderer"],
    [
      "the original exports it under a longer one",
      `${CLASS}module.exports = { RendererHTML: Renderer };`,
      TWIN,
      "Renderer",
    ],
    [
      "the case calls it as it is exported",
      `${CLASS}module.exports = { RendererHTML: Renderer };`,
      TWIN,
      "RendererHTML",
    ],
    [
      "the twin has it under a longer one",
      `${CLASS}module.exports = Renderer;`,
      `${TWIN.replaceAll("RendererHTML", "Renderer").replace("(RendererProtocol)", "")}RendererHTML = Renderer\ndel Renderer\n`,
      "Renderer",
    ],
  ])("is found: %s", async (_what, original, twin, name) => {
    const { report } = await runCheckOfFile(port(original, twin, name), {});
    expect(report.cases).toMatchObject([{ outcome: "agree" }]);
  });

  it("is not taken for one that has nothing of it", async () => {
    const { report } = await runCheckOfFile(
      port(`${CLASS}module.exports = Renderer;`, "class Ledger:\n    def total(self):\n        return 7\n"),
      {},
    );
    expect(report.cases).toMatchObject([{ outcome: "skipped", why: "there is no Renderer" }]);
  });
});

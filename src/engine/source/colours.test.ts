/** Syntax colours of each language that is read: a sample with its truth, and that every type named is one of the grammar. */
import { describe, expect, it } from "vitest";
import { LANGUAGES } from "@/core/source/languages/index";
import { colourSource } from "@/engine/source/parse";

/** `«s:text»` is a piece with its colour; all else has none. */
const SAMPLES: Readonly<Record<string, string>> = {
  python: `«k:class» A:\n    x: «t:int» = «n:12» + «n:2.5» «c:# why»\n    s = «s:f"a»{x}«s:b"» + «s:'c'»\n    y = «k:None» «k:or» «k:True»`,
  javascript: `«k:const» x = «n:12» + «n:10n»; «c:// why»\n«k:let» s = «s:\`a»\${x}«s:b\`» + «s:'c'» + «s:/re/g»;\n«k:return» «k:null» ?? «k:true»;`,
  typescript: "«k:const» x: «t:number» = «n:12»; «c:/* why */»\n«k:let» y: «t:Foo»<«t:string»> = «s:'c'»;",
  tsx: '«k:const» x: «t:Foo» = <p title=«s:"a"»>{«n:12»}</p>; «c:// why»\n«k:return» «k:null»;',
  java: "«k:class» A «k:extends» «t:B» { «t:int» x = «n:12»; «t:double» d = «n:2.5»; «t:char» c = «s:'a'»; «t:String» s = «s:\"t\"»; «t:Object» o = «k:null»; } «c:// why»",
  c: "«k:static» «k:const» «t:unsigned int» x = «n:12»; «t:size_t» n = «n:0x1F»; «t:char» c = «s:'a'»; «k:struct» «t:foo» *f; «c:/* why */»",
  cpp: "«k:namespace» n { «k:class» «t:A» { «t:int» x = «n:12»; «t:auto» s = «s:R\"(raw)\"»; «t:char» c = «s:'a'»; «t:bool» }; } «c:// why»",
  csharp:
    '«k:class» A { «t:int» x = «n:12»; «t:double» d = «n:2.5m»; «t:char» c = «s:\'a\'»; «t:string» s = «s:$"a»{x}«s:b"» + «s:@"v"»; «t:object» o = «k:null»; } «c:// why»',
  go: "«k:package» main\n«k:var» n = «n:12» «c:// why»\n«k:var» f «t:float64» = «n:2.5»\n«k:var» r = «s:'a'»\n«k:var» s = «s:\"t\"» + «s:`raw`»\n«k:var» b = «k:true»",
  rust: "«k:static» X: «t:u32» = «n:12»; «c:// why»\n«k:fn» f(y: &«t:Foo») -> «t:Option»<«t:i32»> { «k:let» c = «s:'a'»; «k:let» s = «s:r#\"raw\"#»; «k:true» }",
  ruby: "«t:X» = «n:12» + «n:2.5» «c:# why»\ns = «s:\"a»#{x}«s:b\"» + «s:'c'» + «s::sym»\n«k:return» «k:nil»",
  php: "«k:<?php»\n«k:class» A { «k:public» «k:function» f(«t:int» $n, «t:Foo» $g) { «k:return» «n:12» + «n:2.5»; } } «c:// why»\n$s = «s:\"a {»$x«s:} b\"» . «s:'c'» . «k:null»;",
};

/** The text of a sample, and its pieces by line and column. */
function read(sample: string): { lines: string[]; pieces: string[] } {
  const pieces: string[] = [];
  const lines = sample.split("\n").map((line, row) => {
    let text = "";
    for (const part of line.split(/(«[csnkt]:[^»]*»)/)) {
      const found = /^«([csnkt]):([^»]*)»$/.exec(part);
      if (found) pieces.push(`${row}:${text.length} ${found[1]} ${found[2]}`);
      text += found ? found[2] : part;
    }
    return text;
  });
  return { lines, pieces };
}

describe.each(LANGUAGES.map(({ name }) => name))("the colours of %s", (name) => {
  it("are those of its texts, numbers, comments, keywords and types", async () => {
    const { lines, pieces } = read(SAMPLES[name] ?? "");
    const spans = await colourSource(lines, name);
    const found = spans.flatMap((line, row) =>
      line.map(([from, to, style]) => `${row}:${from} ${style} ${lines[row]?.slice(from, to)}`),
    );
    expect(found).toEqual(pieces);
    expect(pieces.length).toBeGreaterThan(5);
  });

  it("overlap nowhere, also in a text over several lines", async () => {
    const { lines } = read(SAMPLES[name] ?? "");
    for (const spans of await colourSource([...lines, '"""open', "x"], name)) {
      for (const [index, [from]] of spans.entries()) expect(from).toBeGreaterThanOrEqual(spans[index - 1]?.[1] ?? 0);
    }
  });
});

import { XMLParser, XMLValidator } from "fast-xml-parser";
import { type SuiteReader, type TestOutcome, uniqueTests } from "@/core/suites/suite";

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: "@",
  parseAttributeValue: false,
  processEntities: true,
  isArray: (name) => name === "testsuite" || name === "testcase",
});

/** JUnit XML. A class name that is a file's path is left out of the test's name, as the file is named beside it. */
export const junit: SuiteReader = {
  name: "junit",
  title: "JUnit XML",
  read: (text) => {
    const from = text.indexOf("<");
    const xml = from < 0 ? "" : text.slice(from);
    if (xml === "" || XMLValidator.validate(xml) !== true) return [];
    const found: TestOutcome[] = [];
    collect(parser.parse(xml), found);
    return uniqueTests(found);
  },
  example: {
    text: '<testsuites><testsuite name="s"><testcase classname="t/a.test.ts" name="fares &gt; a child"/><testcase classname="pkg.FareTest" name="adult"><failure message="no"/></testcase></testsuite></testsuites>',
    finds: [
      { name: "fares > a child", result: "passed" },
      { name: "pkg.FareTest.adult", result: "failed" },
    ],
  },
};

type Xml = { readonly [name: string]: unknown };

const isXml = (value: unknown): value is Xml => typeof value === "object" && value !== null && !Array.isArray(value);

function collect(node: unknown, found: TestOutcome[]): void {
  if (Array.isArray(node)) {
    for (const item of node) collect(item, found);
    return;
  }
  if (!isXml(node)) return;
  for (const [name, value] of Object.entries(node)) {
    if (name !== "testcase") collect(value, found);
    else for (const test of Array.isArray(value) ? value : [value]) if (isXml(test)) found.push(toOutcome(test));
  }
}

function toOutcome(test: Xml): TestOutcome {
  const [name, owner] = [String(test["@name"] ?? ""), String(test["@classname"] ?? "")];
  const isPath = owner === "" || /[/\\]|\.(?:[cm]?[jt]sx?|py|rb|php)$/.test(owner) || name.startsWith(owner);
  const result = "failure" in test || "error" in test ? "failed" : "skipped" in test ? "skipped" : "passed";
  return { name: isPath ? name : `${owner}.${name}`, result };
}

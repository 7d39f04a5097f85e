import { describe, expect, it } from "vitest";
import { findPackageName } from "@/core/bring-in/package-name";

const nameIn = (files: Record<string, string>) => findPackageName(new Map(Object.entries(files)));

describe("the name of a project", () => {
  it.each([
    ["package.json", '{ "name": "@harbour/tide-table", "version": "1.0.0" }', "tide-table"],
    ["pyproject.toml", '[build-system]\nrequires = []\n\n[project]\nversion = "1"\nname = "sluice"\n', "sluice"],
    ["Cargo.toml", '[package]\nname = "gauge"\n', "gauge"],
    ["composer.json", '{ "name": "harbour/berths" }', "berths"],
    ["go.mod", "module example.org/harbour/berths/v2\n\ngo 1.22\n", "berths"],
    ["CMakeLists.txt", "cmake_minimum_required(VERSION 3.5)\nproject(gauge C)\n", "gauge"],
  ])("is read from %s", (file, text, name) => expect(nameIn({ [file]: text })).toBe(name));

  it("is none where no manifest gives one", () => {
    expect(nameIn({})).toBeNull();
    expect(nameIn({ "package.json": '{ "private": true }' })).toBeNull();
    expect(nameIn({ "Cargo.toml": '[workspace]\nmembers = ["a"]\n' })).toBeNull();
    expect(nameIn({ "package.json": '{ "name": 7 }', "go.mod": "module" })).toBeNull();
  });

  it("is looked for in the next manifest where one is malformed or empty", () => {
    expect(nameIn({ "pyproject.toml": "[project\nname = ", "go.mod": "module tides\n" })).toBe("tides");
    expect(nameIn({ "package.json": '{ "name": "" }', "Cargo.toml": '[package]\nname = "x"' })).toBe("x");
  });
});

import type { Declarations } from "@/testing/declarations/declarations";

export const typescript: Declarations = {
  language: "typescript",
  source: `import type { T1 } from './types';
import { type T2, value } from './values.js';
import eq = require('./legacy');
import * as path from 'node:path';
export type { T3 } from './t3';
declare module 'x' { export function ambient(a: number): void; }
declare const GLOBAL: string;
namespace Harbour { export function inNs(a: number) { return a; } export namespace Deep { export const K = 1; } }
export enum Tier { Low = 1, High }
export interface Fare<T> { of(n: number): T; name: string }
export type Shape = { kind: 'a'; area(): number } | { kind: 'b' };
type Fn = (a: number) => string;
export abstract class Base<T extends object> implements Fare<T> {
  static readonly LIMIT: number = 9;
  protected abstract later(): void;
  constructor(private readonly max: number, public name?: string) {}
  of(n: number): T;
  of(n: string): T;
  of(n: any): T { return (n satisfies any) as T; }
  private async *gen<U>(this: Base<T>, a: U, b?: U, ...c: U[]): AsyncGenerator<U> { if (a! && b) yield a; }
  get size(): number { return path.sep.length ?? 1; }
  @dec() accessor x = 1;
}
export function over(a: number): number;
export function over(a: any, b = value): any { return a ? b : <any>a; }
export const generic = <T,>(a: T, { b, c }: { b: number; c?: string }): T => a;
function assertIs(a: unknown): asserts a is string { if (typeof a !== 'string') throw new TypeError(); }
export default function () { return 1; }
`,
  sections: [
    "constant GLOBAL 7-7 () 1",
    "function inNs 8-8 (a) 1",
    "constant K 8-8 () 1",
    "class Tier 9-9 () 1",
    "class Fare 10-10 () 1",
    "class Base 13-23 () 4",
    "method Base.constructor 16-16 (max, name) 1",
    "method Base.of 19-19 (n) 1",
    "method Base.gen 20-20 (a, b, c) 3",
    "method Base.size 21-21 () 2",
    "function over 25-25 (a, b) 2",
    "function generic 26-26 (a, options) 1",
    "function assertIs 27-27 (a) 2",
    "function default 28-28 () 1",
  ],
  imports: [
    "1 ./types [T1] T1=./types T1",
    "2 ./values.js [T2, value] T2=./values.js T2, value=./values.js value",
    "3 ./legacy [*] eq=./legacy",
    "4 node:path [*] path=node:path",
    "5 ./t3 [T3]",
  ],
  uses: ["21 path.sep.length", "25 value"],
};

import type { Declarations } from "@/testing/declarations/declarations";

export const javascript: Declarations = {
  language: "javascript",
  source: `#!/usr/bin/env node
'use strict';
import def, { a as b, c } from './money.js';
import * as ns from '../tides';
import './side.js';
import data from './data.json' with { type: 'json' };
export { x as y, default as z } from './deep/x.js';
export * from './all.js';
export * as all from './all2.js';
const fs = require('fs'), { join: j, sep } = require('node:path');
const { readFile } = require('fs').promises;
const lazy = () => import('./lazy.js');
export const RATE = 3, OTHER = 4;
let count = 0;
export default class Fare extends Base {
  static LIMIT = 9;
  #secret = 1;
  arrow = (q) => q && 1;
  constructor(max = 1, { key, other: o } = {}, ...rest) { super(); }
  get price() { return this.max > 1 ? ns.height(1) : b(); }
  set price(v) {}
  static async *gen(n) { for await (const x of n) { if (!x) continue; yield x; } }
  #hidden() { switch (1) { case 1: case 2: return 1; default: return 2; } }
  ['computed' + 1]() {}
  static { count++; }
}
function top(a, b = 2, ...[c, d]) { try { j('a'); } catch { return a ?? b?.c ?? 1; } finally { } do { } while (a || b); }
export const arrow = async ({ a, b }) => { for (const k in a) { if (k && b) return fs.readFileSync(k); } };
const obj = { m() { return 1; }, f: function () { return 2; }, get g() { return 3; }, 'quoted'() {} };
module.exports = { top, helper: function helper(a) { return a; } };
exports.later = function (z) { return z; };
Fare.prototype.added = function (n) { return n; };
(function () { function inside() { return 1; } })();
label: for (;;) { break label; }
`,
  sections: [
    "function lazy 12-12 () 1",
    "constant RATE 13-13 () 1",
    "constant OTHER 13-13 () 1",
    "constant count 14-14 () 1",
    "class Fare 15-26 () 7",
    "method Fare.arrow 18-18 (q) 2",
    "method Fare.constructor 19-19 (max, options, rest) 1",
    "method Fare.price 20-20 () 2",
    "method Fare.price 21-21 (v) 1",
    "method Fare.gen 22-22 (n) 3",
    "method Fare.#hidden 23-23 () 3",
    "method Fare.['computed' + 1] 24-24 () 1",
    "function top 27-27 (a, b, options) 6",
    "function arrow 28-28 (options) 4",
    "constant obj 29-29 () 1",
    "method obj.m 29-29 () 1",
    "method obj.f 29-29 () 1",
    "method obj.g 29-29 () 1",
    "method obj.quoted 29-29 () 1",
    "function helper 30-30 (a) 1",
    "function later 31-31 (z) 1",
    "method Fare.added 32-32 (n) 1",
    "function inside 33-33 () 1",
  ],
  imports: [
    "3 ./money.js [default, a, c] def=./money.js default, b=./money.js a, c=./money.js c",
    "4 ../tides [*] ns=../tides",
    "5 ./side.js []",
    "6 ./data.json [default] data=./data.json default",
    "7 ./deep/x.js [x, default]",
    "8 ./all.js [*]",
    "9 ./all2.js [*]",
    "10 fs [*] fs=fs",
    "10 node:path [join, sep] j=node:path join, sep=node:path sep",
    "11 fs [promises.readFile] readFile=fs promises readFile",
    "12 ./lazy.js []",
  ],
  uses: ["20 ns.height", "20 b", "27 j", "28 fs.readFileSync"],
};

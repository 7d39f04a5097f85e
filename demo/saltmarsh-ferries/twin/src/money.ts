/** Money in whole pence. */

export const SIGN = "£";

export class MoneyError extends Error {}

export function pence(pounds: number, rest = 0): number {
  if (rest < 0 || rest > 99) throw new MoneyError(`the pence must be from 0 to 99, not ${rest}`);
  return pounds < 0 ? pounds * 100 - rest : pounds * 100 + rest;
}

export function formatPence(amount: number, sign = SIGN): string {
  const minus = amount < 0 ? "-" : "";
  const whole = String(Math.floor(Math.abs(amount) / 100)).replace(/\B(?=(\d{3})+$)/g, ",");
  const rest = String(Math.abs(amount) % 100).padStart(2, "0");
  return `${minus}${sign}${whole}.${rest}`;
}

export function parsePence(text: string): number {
  let cleaned = text.trim().replaceAll(SIGN, "").replaceAll(",", "");
  const minus = cleaned.startsWith("-");
  if (minus) cleaned = cleaned.slice(1);
  const match = /^(\d+)(?:\.(\d{0,2}))?$/.exec(cleaned);
  if (!match || cleaned.endsWith(".")) throw new MoneyError(`not an amount: ${text}`);
  const amount = Number(match[1]) * 100 + Number(`${match[2] ?? ""}00`.slice(0, 2));
  return minus ? -amount : amount;
}

export function splitEvenly(amount: number, parts: number): number[] {
  if (parts < 1) throw new MoneyError("nothing to split between");
  if (amount < 0) return splitEvenly(-amount, parts).map((share) => -share);
  const each = Math.floor(amount / parts);
  const odd = amount % parts;
  return Array.from({ length: parts }, (_, index) => (index < odd ? each + 1 : each));
}

export function splitByWeight(amount: number, weights: readonly number[]): number[] {
  const sum = weights.reduce((one, other) => one + other, 0);
  if (sum <= 0 || weights.some((weight) => weight < 0)) throw new MoneyError("weights must be positive");
  const shares = weights.map((weight) => Math.floor((amount * weight) / sum));
  const remainders = weights.map((weight) => (((amount * weight) % sum) + sum) % sum);
  const order = weights
    .map((_, index) => index)
    .sort((one, other) => remainders[other]! - remainders[one]! || one - other);
  const missing = amount - shares.reduce((one, other) => one + other, 0);
  for (const index of order.slice(0, missing)) shares[index]!++;
  return shares;
}

export function total(amounts: readonly number[]): number {
  let result = 0;
  for (const amount of amounts) {
    if (!Number.isInteger(amount)) throw new MoneyError(`not whole pence: ${amount}`);
    result += amount;
  }
  return result;
}

export function coins(
  amount: number,
  kinds: readonly number[] = [200, 100, 50, 20, 10, 5, 2, 1],
): Record<string, number> {
  if (amount < 0) throw new MoneyError("cannot pay out less than nothing");
  const result: Record<string, number> = {};
  let left = amount;
  for (const coin of kinds) {
    const count = Math.floor(left / coin);
    left %= coin;
    if (count > 0) result[String(coin)] = count;
  }
  return result;
}

export function ledger(entries: readonly (readonly [string, number])[]) {
  let balance = 0;
  let lowestPoint = 0;
  const lines = entries.map(([label, amount]) => {
    balance += amount;
    lowestPoint = Math.min(lowestPoint, balance);
    return { label, amount, balance };
  });
  return { lines, closing: balance, lowestPoint };
}

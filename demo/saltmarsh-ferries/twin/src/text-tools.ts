/** Fixed-width text for the notice board printer. */

export const ELLIPSIS = "…";

export class TextError extends Error {}

export function pad(text: string, width: number, fill = " "): string {
  return text + fill.repeat(Math.max(0, width - text.length));
}

export function padLeft(text: string, width: number, fill = " "): string {
  return fill.repeat(Math.max(0, width - text.length)) + text;
}

export function shorten(text: string, width: number): string {
  if (width < 1) throw new TextError(`no room for text: ${width}`);
  if (text.length <= width) return text;
  return text.slice(0, width - 1).trimEnd() + ELLIPSIS;
}

export function centre(text: string, width: number): string {
  const room = Math.max(0, width - text.length);
  const left = Math.floor(room / 2);
  return " ".repeat(left) + text + " ".repeat(room - left);
}

export function wrap(text: string, width: number): string[] {
  if (width < 1) throw new TextError(`no room for text: ${width}`);
  const lines: string[] = [];
  let line = "";
  for (const word of text.split(/\s+/).filter(Boolean)) {
    if (line && line.length + 1 + word.length > width) {
      lines.push(line);
      line = word;
    } else {
      line = line ? `${line} ${word}` : word;
    }
  }
  if (line) lines.push(line);
  return lines;
}

export function columns(rows: readonly (readonly string[])[], gap = 2): string[] {
  const widths: number[] = [];
  for (const row of rows) {
    row.forEach((cell, index) => {
      widths[index] = Math.max(widths[index] ?? 0, cell.length);
    });
  }
  return rows.map((row) =>
    row
      .map((cell, index) => (index === row.length - 1 ? cell : pad(cell, widths[index]!)))
      .join(" ".repeat(gap))
      .trimEnd(),
  );
}

export function rule(width: number, sign = "-"): string {
  return sign.repeat(width);
}

export function heading(text: string, sign = "="): string[] {
  return [text, rule(text.length, sign)];
}

export function initials(name: string): string {
  return name
    .replaceAll("-", " ")
    .split(/\s+/)
    .filter(Boolean)
    .map((word) => word[0]!.toUpperCase())
    .join("");
}

export function tidy(text: string): string {
  return text.split(/\s+/).filter(Boolean).join(" ");
}

export function createPieces(compilers: {
  readonly compileWhole: (file: string, source: string) => string;
  readonly compilePiece: (file: string, source: string) => string;
}): (file: string, base: string, source: string) => string | null;

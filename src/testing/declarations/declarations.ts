/** Sources with every manner of declaring, importing and using that a language has, and what is there, gone through by hand. */
export type Declarations = {
  readonly language: string;
  readonly source: string;
  /** Kind, name, lines, parameters, cyclomatic complexity. */
  readonly sections: readonly string[];
  /** Line, what from, names, and what each is called in the file. */
  readonly imports: readonly string[];
  readonly uses: readonly string[];
};

/** Detects test files by the conventions of each language. */
const NAMED =
  /(^|\/)(test_[^/]+\.py|[^/]+_test\.(py|go|rb|c|cc|cpp)|[^/]+[._-](test|spec)\.[cm]?[jt]sx?|[^/]+_spec\.rb|[^/]+Tests?\.(java|cs|php)|conftest\.py|tests?\.(py|rb|php|[cm]?[jt]sx?)|spec\.[cm]?[jt]sx?)$/;
const FOLDER = /(^|\/)(tests?|testdata|__tests__|specs?)\//;

/** Whether a path is that of a test, by its name or folder. */
export const isTestFile = (file: string): boolean => NAMED.test(file) || FOLDER.test(file);

/** Detects scripts of packaging and tools by the conventions of each language: nobody ports them, and nothing is built by them here. */
const NAMED =
  /(^|\/)(setup\.py|noxfile\.py|[gG]ulpfile\.[cm]?[jt]s|Gruntfile\.[cm]?[jt]s|Rakefile|[\w.-]+\.config\.[cm]?[jt]s)$/;

/** Whether a path is that of a build script or a tool's configuration, by its name. */
export const isBuildFile = (file: string): boolean => NAMED.test(file);

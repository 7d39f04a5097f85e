/** Detects packaging and tool scripts by the conventions of each language. They are not ported, and not run. */
const NAMED =
  /(^|\/)(setup\.py|noxfile\.py|[gG]ulpfile\.[cm]?[jt]s|Gruntfile\.[cm]?[jt]s|Rakefile|[\w.-]+\.config\.[cm]?[jt]s)$/;

/** Whether a path is that of a build script or a tool's configuration, by its name. */
export const isBuildFile = (file: string): boolean => NAMED.test(file);

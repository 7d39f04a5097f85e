/** Detects scripts of the build by the conventions of each language: nobody ports them with the code. */
const NAMED =
  /(^|\/)(setup\.py|noxfile\.py|build\.rs|[gG]ulpfile\.[cm]?[jt]s|Gruntfile\.[cm]?[jt]s|Rakefile|[\w.-]+\.config\.[cm]?[jt]s)$/;

/** Whether a path is that of a build script or a tool's configuration, by its name. */
export const isBuildFile = (file: string): boolean => NAMED.test(file);

// Preloaded: workers made of a text load this, and not what is imported by an option.
require("./record-run.mjs");

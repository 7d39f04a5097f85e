import { conformance } from "./suite";

conformance("javascript", "side.js", "side.js");

import { conformance } from "./suite";

conformance("c", "side.c", "side.c");

import { conformance } from "./suite";

conformance("rust", "side.rs", "side.rs");

import { conformance } from "./suite";

conformance("go", "side.go", "side.go");

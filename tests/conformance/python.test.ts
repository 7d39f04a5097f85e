import { conformance } from "./suite";

conformance("python", "side.py", "side.py");

import { conformance } from "./suite";

conformance("cpp", "side.cpp", "side.cpp");

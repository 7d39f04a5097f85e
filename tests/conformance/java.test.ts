import { conformance } from "./suite";

conformance("java", "side.java", "Side.java");

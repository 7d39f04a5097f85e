import { conformance } from "./suite";

conformance("ruby", "side.rb", "side.rb");

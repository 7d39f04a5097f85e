import { conformance } from "./suite";

conformance("php", "side.php", "side.php");

import { PortsView } from "@/ui/views/ports/ports-view";

export default function Page() {
  return <PortsView />;
}

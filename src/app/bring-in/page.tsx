import { BringInView } from "@/ui/views/bring-in/bring-in-view";

export default function Page() {
  return <BringInView />;
}

import { BaselineView } from "@/ui/views/baseline/baseline-view";

type Props = { params: Promise<{ id: string }> };

export default async function Page({ params }: Props) {
  return <BaselineView id={(await params).id} />;
}

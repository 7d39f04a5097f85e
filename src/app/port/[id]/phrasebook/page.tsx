import { PhrasebookView } from "@/ui/views/phrasebook/phrasebook-view";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ twin?: string; from?: string; to?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const { twin, from, to } = await searchParams;
  const begun = from === undefined || to === undefined ? null : { from, to };
  return <PhrasebookView id={(await params).id} twin={twin ?? null} begun={begun} />;
}

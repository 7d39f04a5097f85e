import { PhrasebookView } from "@/ui/views/phrasebook/phrasebook-view";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ twin?: string }> };

export default async function Page({ params, searchParams }: Props) {
  return <PhrasebookView id={(await params).id} twin={(await searchParams).twin ?? null} />;
}

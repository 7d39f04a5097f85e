import { JournalView } from "@/ui/views/journal/journal-view";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ twin?: string }> };

export default async function Page({ params, searchParams }: Props) {
  return <JournalView id={(await params).id} twin={(await searchParams).twin ?? null} />;
}

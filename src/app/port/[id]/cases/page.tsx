import { CasesView } from "@/ui/views/cases/cases-view";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ twin?: string }> };

export default async function Page({ params, searchParams }: Props) {
  return <CasesView id={(await params).id} twin={(await searchParams).twin ?? null} />;
}

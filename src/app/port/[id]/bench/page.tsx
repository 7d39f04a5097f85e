import { redirect } from "next/navigation";
import { readPlace } from "@/ui/state/place-on-bench";
import { BenchView } from "@/ui/views/bench/bench-view";

type Props = {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ module?: string; twin?: string; case?: string; section?: string; at?: string }>;
};

export default async function Page({ params, searchParams }: Props) {
  const { id } = await params;
  const { module, twin, case: caseId, section, at } = await searchParams;
  if (!module) redirect(`/port/${id}/order`);
  return (
    <BenchView
      key={`${module} ${section} ${at}`}
      id={id}
      module={module}
      twin={twin ?? null}
      initialCase={caseId ?? null}
      initialSection={section ?? null}
      initialPlace={readPlace(at)}
    />
  );
}

import { choiceFrom } from "@/ui/state/cases-choice";
import { CasesView } from "@/ui/views/cases/cases-view";

type Props = {
  params: Promise<{ id: string }>;
  searchParams: Promise<{
    twin?: string;
    tab?: string;
    words?: string;
    case?: string;
    allowance?: string;
    add?: string;
    section?: string;
    module?: string;
  }>;
};

export default async function Page({ params, searchParams }: Props) {
  const given = await searchParams;
  return (
    <CasesView
      id={(await params).id}
      twin={given.twin ?? null}
      module={given.module ?? null}
      initial={choiceFrom(given)}
    />
  );
}

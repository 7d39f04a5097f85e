import { SurveyView } from "@/ui/views/survey/survey-view";

type Props = {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ twin?: string; name?: string; module?: string }>;
};

export default async function Page({ params, searchParams }: Props) {
  const { twin, name, module } = await searchParams;
  return (
    <SurveyView id={(await params).id} twin={twin ?? null} initialName={name ?? null} initialModule={module ?? null} />
  );
}

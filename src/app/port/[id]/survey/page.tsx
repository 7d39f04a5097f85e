import { SurveyView } from "@/ui/views/survey/survey-view";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ twin?: string }> };

export default async function Page({ params, searchParams }: Props) {
  return <SurveyView id={(await params).id} twin={(await searchParams).twin ?? null} />;
}

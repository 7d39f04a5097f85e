import { SettingsView } from "@/ui/views/settings/settings-view";

type Props = { params: Promise<{ id: string }> };

export default async function Page({ params }: Props) {
  return <SettingsView id={(await params).id} />;
}

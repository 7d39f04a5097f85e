import { OrderView } from "@/ui/views/order/order-view";

type Props = {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ twin?: string; module?: string; zoom?: string }>;
};

export default async function Page({ params, searchParams }: Props) {
  const { twin, module, zoom } = await searchParams;
  return (
    <OrderView id={(await params).id} twin={twin ?? null} initialModule={module ?? null} initialZoom={zoom ?? null} />
  );
}

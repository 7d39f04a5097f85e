import { OrderView } from "@/ui/views/order/order-view";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ twin?: string }> };

export default async function Page({ params, searchParams }: Props) {
  return <OrderView id={(await params).id} twin={(await searchParams).twin ?? null} />;
}

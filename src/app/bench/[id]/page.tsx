import { BenchLoader } from "@/ui/bench/bench-loader";

export const dynamic = "force-dynamic";

export default async function Bench({ params }: { params: Promise<{ id: string }> }) {
  return <BenchLoader id={(await params).id} />;
}

import { listAssets } from "@/server/assets";
import { database } from "@/server/database";
import { HomeScreen } from "@/ui/home/home-screen";

export const dynamic = "force-dynamic";

export default async function Home() {
  return <HomeScreen assets={await listAssets(await database())} />;
}

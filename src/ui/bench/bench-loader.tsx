"use client";

import dynamic from "next/dynamic";

// The panes need a browser: nothing of the bench is drawn on the server.
const BenchScreen = dynamic(() => import("./bench-screen").then((m) => m.BenchScreen), {
  ssr: false,
  loading: () => <p style={{ padding: 24 }}>Opening the asset…</p>,
});

export const BenchLoader = ({ id }: { id: string }) => <BenchScreen id={id} />;

"use client";

import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import type { ReadFile } from "@/compute/describe-read";
import type { Unit } from "@/core/layout/asset";
import { Stopped } from "@/core/operations/operation";
import { count } from "@/core/operations/words";
import { Bringing } from "./bring-in";

const NO_FILES: readonly ReadFile[] = [];

/** Bringing files in: what is being read, what is shown of it, and what was refused. */
export function useBringing() {
  const router = useRouter();
  const bringing = useRef<Bringing | null>(null);
  const [reading, setReading] = useState<{ what: string; share: number } | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const [read, setRead] = useState<readonly ReadFile[]>(NO_FILES);

  const attempt = async (what: string, act: (bring: Bringing) => Promise<void>) => {
    setRefusal(null);
    setSaid(null);
    setReading({ what, share: 0 });
    bringing.current ??= new Bringing();
    try {
      await act(bringing.current);
    } catch (error) {
      if (!(error instanceof Stopped)) setRefusal(error instanceof Error ? error.message : String(error));
    } finally {
      setReading(null);
    }
  };

  const letGo = () => {
    bringing.current?.stop();
    bringing.current = null;
    setRead(NO_FILES);
  };

  const bring = (files: File[]) => {
    const what = files.length === 1 ? files[0]!.name : count(files.length, "file");
    return attempt(what, async (b) => {
      const found = await b.read(files, (share) => setReading({ what, share }));
      if (found.restored) {
        setSaid(`${count(found.restored, "asset")} put back from the backup.`);
        router.refresh();
      }
      setRead(found.read);
    });
  };

  const keep = (units: readonly Unit[]) => {
    const files = read;
    setRead(NO_FILES);
    return attempt(files.length === 1 ? files[0]!.name : count(files.length, "asset"), async (b) => {
      let id = "";
      for (let i = 0; i < files.length; i++) {
        id = await b.keep(i, units[i]!);
        setReading({ what: files[i]!.name, share: (i + 1) / files.length });
      }
      letGo();
      if (files.length === 1) router.push(`/bench/${id}`);
      else {
        setSaid(`${count(files.length, "asset")} brought in.`);
        router.refresh();
      }
    });
  };

  return { reading, read, refusal, said, bring, keep, letGo, refuse: setRefusal };
}

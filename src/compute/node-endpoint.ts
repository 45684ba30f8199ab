import type { MessagePort, Worker } from "node:worker_threads";
import type { Endpoint } from "comlink";

/** A worker thread of Node as comlink knows workers of browsers: listeners there are handed events. */
export function nodeEndpoint(port: Worker | MessagePort): Endpoint {
  const wrapped = new WeakMap<object, (data: unknown) => void>();
  return {
    postMessage: (message, transfer) => port.postMessage(message, transfer as never[]),
    addEventListener(_type, listener) {
      const heard = (data: unknown) => {
        const event = { data } as MessageEvent;
        if (typeof listener === "function") listener(event);
        else listener.handleEvent(event);
      };
      wrapped.set(listener, heard);
      port.on("message", heard);
    },
    removeEventListener(_type, listener) {
      const heard = wrapped.get(listener);
      if (heard) port.off("message", heard);
    },
  };
}

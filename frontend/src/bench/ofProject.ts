import type { StoreApi, UseBoundStore } from "zustand";
import { useBench } from "./store";

/** A store of what one does within a project: in another one it begins anew, but for what the hand takes along. */
export function ofProject<T>(
  store: UseBoundStore<StoreApi<T>>,
  takesAlong: (state: T) => Partial<T> = () => ({}),
): UseBoundStore<StoreApi<T>> {
  useBench.subscribe((now, before) => {
    if (now.project === before.project || !before.project) return;
    store.setState({ ...store.getInitialState(), ...takesAlong(store.getState()) }, true);
  });
  return store;
}

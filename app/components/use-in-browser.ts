import { useSyncExternalStore } from "react";

const never = () => () => undefined;

/** True once the page runs in the browser: for what the server cannot know or draw. */
export const useInBrowser = (): boolean =>
  useSyncExternalStore(
    never,
    () => true,
    () => false,
  );

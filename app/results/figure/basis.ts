import { createContext } from "react";

/** What the figures of a page are based on, in words. */
export const Basis = createContext("");

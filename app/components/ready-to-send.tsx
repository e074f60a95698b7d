import { PrefetchPageLinks } from "react-router";

/**
 * Has everything at hand that sending something to an address of its own needs, so that a server that goes away before the first
 * time takes no page away with it: what was typed stays, and can be sent when it is back.
 */
export const ReadyToSend = ({ to }: { to: string }) => <PrefetchPageLinks page={to} />;

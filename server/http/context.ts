import type { Store } from "../database/open";
import type { ExportDesk } from "../export/desk";
import type { PublicAddress } from "./guard";
import type { Mailer } from "../mail";
import type { Provider } from "../provider";
import type { MovingDesk } from "../moving/desk";
import type { ResultsDesk } from "../results/desk";

/** What every loader and action gets from the server that runs it. */
export type ServerContext = {
  store: Store;
  results: ResultsDesk;
  exports: ExportDesk;
  /** Takes in what comes from other installations. */
  moving: MovingDesk;
  version: string;
  /** It was started with the demo data: anyone may look around in them. */
  isDemo: boolean;
  /** Where it is reached, as configured; otherwise null. */
  publicAddress: PublicAddress | null;
  /** For the scripts of this one page, named in its content security policy. */
  nonce: string;
  /** Sends mail, where that is set up. */
  mailer: Mailer | null;
  /** Where one can sign in elsewhere, where that is set up. */
  provider: Provider | null;
  /** Address of the client, to limit tries of signing in. */
  clientAddress: string;
};
/** Where the participant's player lies. */
export type PlayerAssets = { script: string; styles: string[]; preload: string[] };

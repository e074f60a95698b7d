/** Takes a document of version `from` to the next version. Documents are plain parsed JSON here, not yet checked. */
export type Migration = {
  from: number;
  describe: string;
  up: (document: Record<string, unknown>) => Record<string, unknown>;
};

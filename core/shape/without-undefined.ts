/** The same without the fields that are undefined, so that it is equal to itself after being saved as JSON. */
export const withoutUndefined = <T extends object>(value: T): { [K in keyof T]: Exclude<T[K], undefined> } =>
  Object.fromEntries(Object.entries(value).filter(([, each]) => each !== undefined)) as {
    [K in keyof T]: Exclude<T[K], undefined>;
  };

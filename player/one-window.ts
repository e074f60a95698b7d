const patience = 250;

/**
 * Runs the work in one window of this browser only. Where another has it, `askToTake` is asked; when it says yes the
 * session is taken over, and `onLost` is called in the window that had it.
 */
export async function inOneWindow(
  name: string,
  work: () => Promise<void>,
  askToTake: () => Promise<void>,
  onLost: () => void,
): Promise<void> {
  const { locks } = navigator as { locks?: LockManager };
  return locks ? withLocks(locks, name, work, askToTake, onLost) : withMessages(name, work, askToTake, onLost);
}

async function withLocks(
  locks: LockManager,
  name: string,
  work: () => Promise<void>,
  askToTake: () => Promise<void>,
  onLost: () => void,
): Promise<void> {
  let isMine = false;
  const hold = (options: LockOptions) =>
    locks
      .request(name, options, async (lock) => {
        if (!lock) return;
        isMine = true;
        await work();
      })
      .catch((error: unknown) => {
        // The lock was taken by another window.
        if (error instanceof DOMException && error.name === "AbortError") onLost();
        else throw error;
      });
  await hold({ ifAvailable: true });
  if (isMine) return;
  await askToTake();
  await hold({ steal: true });
}

/** Without locks (plain HTTP) windows ask each other. */
async function withMessages(
  name: string,
  work: () => Promise<void>,
  askToTake: () => Promise<void>,
  onLost: () => void,
): Promise<void> {
  const channel = new BroadcastChannel(name);
  const answered = new Promise<boolean>((resolve) => {
    channel.onmessage = ({ data }) => data === "here" && resolve(true);
    setTimeout(() => resolve(false), patience);
  });
  channel.postMessage("anyone?");
  if (await answered) {
    await askToTake();
    channel.postMessage("take");
  }
  channel.onmessage = ({ data }) => {
    if (data === "anyone?") channel.postMessage("here");
    if (data === "take") onLost();
  };
  await work();
  channel.close();
}

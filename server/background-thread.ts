import { setPriority } from "node:os";

/**
 * Lets a worker thread stand back behind those that answer requests, when all are busy. On Linux priorities are those of
 * threads; elsewhere they would be the whole process's, and are left alone.
 */
export function standBack(): void {
  if (process.platform === "linux") setPriority(10);
}

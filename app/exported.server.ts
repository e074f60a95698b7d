import type { AppLoadContext } from "react-router";
import type { ExportTask } from "~/server/export/tasks";

/** A file that is made of a study while it is sent, to be saved under a name. */
export function exported({ exports }: AppLoadContext, task: ExportTask, name: string, mime: string): Response {
  if (!exports.hasRoom)
    return new Response("Many files are being made just now. Wait a moment, then try again.", {
      status: 503,
      headers: { "Retry-After": "10" },
    });
  return new Response(exports.stream(task), {
    headers: {
      "Content-Type": mime,
      "Content-Disposition": `attachment; filename="${name}"`,
      "Cache-Control": "no-store",
    },
  });
}

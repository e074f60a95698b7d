import type { MediaFile } from "~/core/values/study-values";

export type Uploaded = { ok: true; file: MediaFile } | { ok: false; reason: string };

/** Sends one file of this computer to the study's media, telling the share sent. What is stored already is not stored again. */
export async function uploadMedia(code: string, file: File, onProgress?: (share: number) => void): Promise<Uploaded> {
  // Whoever leaves the page meanwhile is asked first.
  const leaving = (event: Event) => event.preventDefault();
  addEventListener("beforeunload", leaving);
  return send(code, file, onProgress).finally(() => removeEventListener("beforeunload", leaving));
}

async function send(code: string, file: File, onProgress?: (share: number) => void): Promise<Uploaded> {
  const form = new FormData();
  form.set("file", file);
  for (const [name, value] of Object.entries(await measured(file))) form.set(name, String(value));
  return new Promise((resolve) => {
    const request = new XMLHttpRequest();
    const away = () =>
      resolve({ ok: false, reason: `${file.name}: the server cannot be reached, so it was not added. Try again.` });
    request.open("POST", `/studies/${code}/media`);
    request.responseType = "json";
    request.upload.onprogress = ({ loaded, total }) => onProgress?.(total > 0 ? loaded / total : 0);
    request.onerror = request.ontimeout = request.onabort = away;
    request.onload = () => {
      const answer = request.response as (MediaFile & { reason?: string }) | null;
      if (request.status === 200 && answer) resolve({ ok: true, file: answer });
      else if (answer?.reason) resolve({ ok: false, reason: answer.reason });
      else away();
    };
    request.send(form);
  });
}

/** What only a browser can say of a sound or video: its length in ms, its size in pixels. */
async function measured(file: File): Promise<{ ms?: number; width?: number; height?: number }> {
  const kind = /^(audio|video)\//.exec(file.type)?.[1];
  if (!kind) return {};
  const url = URL.createObjectURL(file);
  const player = document.createElement(kind as "audio" | "video");
  player.preload = "metadata";
  try {
    await new Promise<void>((resolve, reject) => {
      player.onloadedmetadata = () => resolve();
      player.onerror = () => reject(new Error("not playable here"));
      setTimeout(resolve, 5000);
      player.src = url;
    });
    const size = player instanceof HTMLVideoElement ? { width: player.videoWidth, height: player.videoHeight } : {};
    return { ...(Number.isFinite(player.duration) ? { ms: Math.round(player.duration * 1000) } : {}), ...size };
  } catch {
    return {};
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** What a file picker offers for each kind of media. */
export const acceptedFiles = {
  picture: "image/png,image/jpeg,image/webp,image/avif,image/svg+xml",
  sound: "audio/*,.wav,.mp3,.ogg,.flac,.m4a",
  video: "video/mp4,video/webm",
  page: "text/html,.html,.zip",
  font: ".woff2,.ttf,.otf,font/woff2,font/ttf,font/otf",
} as const;
export const anyMedia = Object.values(acceptedFiles).join(",");

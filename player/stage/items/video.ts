import type { VideoItem } from "~/core/design/types";
import { fitInto } from "./image";
import { holding, numberOr, place, sized, textOr, type ItemDrawer } from "./kind";

const happened = (video: HTMLVideoElement, event: string) =>
  new Promise<void>((resolve) => {
    video.addEventListener(event, () => resolve(), { once: true });
    video.addEventListener("error", () => resolve(), { once: true });
  });

export const video: ItemDrawer<VideoItem> = {
  create: (document) => {
    const element = holding("video", "video")(document);
    const player = element.firstElementChild as HTMLVideoElement;
    Object.assign(player, { preload: "auto", playsInline: true, muted: true, disablePictureInPicture: true });
    return element;
  },
  update: (element, item, { context, mediaUrl }) => {
    place(element, item, context);
    const box = sized(element, item.size, context);
    const id = textOr(item.file, context, "");
    const url = mediaUrl(id);
    const player = element.firstElementChild as HTMLVideoElement;
    fitInto(
      player,
      item.fit,
      box,
      context.document.media.find((file) => file.id === id),
    );
    element.classList.toggle("missing", url === null);
    if (url === null) player.removeAttribute("src");
    else if (player.getAttribute("src") !== url) {
      player.src = url;
      player.currentTime = item.startMs / 1000;
    }
  },
  /** Settled when its first frame is decoded and shown in the hidden element. */
  ready: async (element, item) => {
    const player = element.firstElementChild as HTMLVideoElement;
    if (!player.getAttribute("src")) return;
    if (player.readyState < 2) await happened(player, "loadeddata");
    if (Math.abs(player.currentTime - item.startMs / 1000) > 0.01 || player.seeking) {
      player.currentTime = item.startMs / 1000;
      await happened(player, "seeked");
    }
  },
  live: (element, item, { context }, tell) => {
    const player = element.firstElementChild as HTMLVideoElement;
    let isOver = !player.getAttribute("src") || item.atEnd === "loop";
    const atEnd = () => {
      if (item.atEnd === "loop") {
        player.currentTime = item.startMs / 1000;
        void player.play().catch(() => undefined);
        return;
      }
      player.pause();
      if (item.atEnd === "vanish") element.style.visibility = "hidden";
      if (!isOver) tell.observed("ended", performance.now());
      isOver = true;
    };
    return Promise.resolve({
      begin: () => {
        const volume = numberOr(item.volume, context, 100) / 100;
        player.volume = Math.min(1, volume);
        player.muted = volume === 0;
        player.onended = atEnd;
        player.play().then(
          () => tell.observed("began", performance.now()),
          () => {
            // Without a press on this page before, browsers play videos only when they are silent.
            player.muted = true;
            player.play().then(
              () => tell.observed("began", performance.now()),
              () => (isOver = true),
            );
          },
        );
      },
      end: () => {
        player.onended = null;
        player.pause();
      },
      ...(item.stopMs === null
        ? {}
        : {
            frame: () => {
              if (!player.paused && player.currentTime * 1000 >= (item.stopMs ?? 0)) atEnd();
            },
          }),
      isOver: () => isOver,
    });
  },
};

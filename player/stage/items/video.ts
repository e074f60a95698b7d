import type { VideoItem } from "~/core/items/video/video";
import { speed } from "../../pace";
import { fitInto } from "../fit-into";
import { holding, numberOr, setPosition, sized, textOr, thousandth, type ItemDrawer } from "../item-drawer";

const happened = (video: HTMLVideoElement, event: string) =>
  new Promise<void>((resolve) => {
    video.addEventListener(event, () => resolve(), { once: true });
    video.addEventListener("error", () => resolve(), { once: true });
  });

export const drawer: ItemDrawer<VideoItem> = {
  create: (document) => {
    const element = holding("video", "video")(document);
    const player = element.firstElementChild as HTMLVideoElement;
    Object.assign(player, { preload: "auto", playsInline: true, muted: true, disablePictureInPicture: true });
    return element;
  },
  update: (element, item, { context, mediaUrl }) => {
    setPosition(element, item, context);
    const box = sized(element, item.size, context);
    const id = textOr(item.file, context, "");
    const url = mediaUrl(id);
    const player = element.firstElementChild as HTMLVideoElement;
    fitInto(
      player,
      item.fit,
      box,
      context.study.media.find((file) => file.id === id),
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
  live: (element, item, { context }, tell, frameMs) => {
    const player = element.firstElementChild as HTMLVideoElement;
    let isOver = !player.getAttribute("src") || item.atEnd === "loop";
    let hasEnded = false;
    let isOn = false;
    let awaited = 0;
    let droppedBefore = 0;
    const dropped = () => player.getVideoPlaybackQuality().droppedVideoFrames - droppedBefore;
    const ended = (stamp: number) => {
      if (hasEnded) return;
      hasEnded = true;
      tell.observed("ended", stamp, { lateFrames: Math.max(0, dropped()) });
    };
    const atEnd = () => {
      if (item.atEnd === "loop") {
        player.currentTime = item.startMs / 1000;
        void player.play().catch(() => undefined);
        return;
      }
      player.pause();
      if (item.atEnd === "vanish") element.style.visibility = "hidden";
      ended(performance.now());
      isOver = true;
    };
    /** The first frame that is shown after playing began says when that was, where the browser tells. */
    const tellFirstFrame = (stamp: number) => {
      const began = (at: number) => tell.observed("began", at, { offset: thousandth(at - stamp - frameMs) });
      if ("requestVideoFrameCallback" in player)
        awaited = player.requestVideoFrameCallback((_, { expectedDisplayTime }) => began(expectedDisplayTime));
      else
        (player as HTMLVideoElement).addEventListener("playing", ({ timeStamp }) => began(timeStamp), { once: true });
    };
    return Promise.resolve({
      begin: (stamp) => {
        const volume = numberOr(item.volume, context, 100) / 100;
        player.volume = Math.min(1, volume);
        player.muted = volume === 0;
        player.onended = atEnd;
        player.playbackRate = speed();
        droppedBefore = player.getVideoPlaybackQuality().droppedVideoFrames;
        tellFirstFrame(stamp);
        isOn = true;
        player.play().catch(() => {
          // Its scene may be over before it came to play.
          if (!isOn) return;
          // Without a press on this page before, browsers play videos only when they are silent.
          player.muted = true;
          player.play().catch(() => (isOver = true));
        });
      },
      control: (act, volume) => {
        if (act === "volume") {
          player.muted = volume === 0;
          player.volume = Math.min(1, Math.max(0, (volume ?? 100) / 100));
        } else if (act === "play") void player.play().catch(() => undefined);
        else player.pause();
        if (act === "stop") {
          player.currentTime = item.startMs / 1000;
          ended(performance.now());
          isOver = true;
        }
      },
      end: (stamp) => {
        isOn = false;
        player.onended = null;
        if (awaited > 0) player.cancelVideoFrameCallback(awaited);
        player.pause();
        ended(stamp);
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
  still: (element, item, _, elapsed) => {
    const player = element.firstElementChild as HTMLVideoElement;
    if (!Number.isFinite(player.duration)) return;
    const from = item.startMs / 1000;
    const length = Math.max(0.001, (item.stopMs === null ? player.duration : item.stopMs / 1000) - from);
    const isOver = elapsed / 1000 >= length && item.atEnd !== "loop";
    element.style.visibility = isOver && item.atEnd === "vanish" ? "hidden" : "";
    const wanted = from + (isOver ? length - 0.001 : (elapsed / 1000) % length);
    if (!player.seeking && Math.abs(player.currentTime - wanted) > 0.02) player.currentTime = wanted;
  },
};

import { Film } from "lucide-react";
import type { VideoItem } from "~/core/items/video/video";
import { ChoiceLine } from "~/app/components/fields";
import { BoundMedia, BoundNumber, type ItemSettings } from "../item-fields";
import { fits } from "../fits";
import { Excerpt } from "../excerpt";

const Fields: ItemSettings<VideoItem>["Fields"] = ({ item, set, ...near }) => (
  <>
    <BoundMedia near={near} kind="video" value={item.file} onChange={(file) => set({ file })} />
    <Excerpt excerpt={item} onChange={(change) => set(change, "excerpt")} />
    <ChoiceLine says="Fit" value={item.fit} options={fits} onChange={(fit) => set({ fit })} />
    <BoundNumber
      near={near}
      says="Volume"
      label="volume in per cent"
      value={item.volume}
      onChange={(volume) => set({ volume }, "volume")}
      constant={100}
      least={0}
      suffix="%"
    />
    <ChoiceLine
      says="At its end"
      value={item.atEnd}
      options={[
        ["hold", "its last frame stays"],
        ["vanish", "it vanishes"],
        ["loop", "it begins again"],
      ]}
      onChange={(atEnd) => set({ atEnd })}
    />
  </>
);

export const settings: ItemSettings<VideoItem> = { icon: Film, title: "video", Fields };

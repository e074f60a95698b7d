import { Globe } from "lucide-react";
import type { WebItem } from "~/core/items/web/web";
import { ChoiceLine, Property, TextField } from "~/app/components/fields";
import { BoundMedia, BoundText, type ItemSettings } from "../item-fields";

const Fields: ItemSettings<WebItem>["Fields"] = ({ item, set, ...near }) => {
  const { page } = item;
  return (
    <>
      <ChoiceLine
        says="Page"
        value={page.from}
        options={[
          ["address", "at an address"],
          ["file", "a page of the study: HTML, or zipped"],
        ]}
        onChange={(from) => set({ page: from === "file" ? { from, file: "" } : { from, address: "" } })}
      />
      {page.from === "file" ? (
        <BoundMedia near={near} kind="page" value={page.file} onChange={(file) => set({ page: { ...page, file } })} />
      ) : (
        <BoundText
          near={near}
          says="Address"
          value={page.address}
          onChange={(address) => set({ page: { ...page, address } }, "address")}
          constant=""
        />
      )}
      {page.from === "file" && (
        <Property label="may fetch from">
          <TextField
            label="Addresses the page may fetch from"
            value={(item.connects ?? []).join(" ")}
            onChange={(typed) => {
              const connects = typed.split(/[\s,]+/).filter((each) => each !== "");
              set({ connects: connects.length > 0 ? connects : undefined }, "connects");
            }}
          />
        </Property>
      )}
      <p className="text-xs text-muted">
        {page.from === "address"
          ? "A page at another address cannot be loaded beforehand, and its onset cannot be measured. "
          : "Everything the index.html of a zipped page refers to is put into one file. It reaches nothing outside but what is named here. "}
        It sends a value with postMessage(&#123; lapwing: value &#125;); every value is recorded and can be the answer.
      </p>
    </>
  );
};

export const settings: ItemSettings<WebItem> = { icon: Globe, title: "web page", Fields };

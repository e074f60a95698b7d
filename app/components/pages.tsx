import { ChevronLeft, ChevronRight } from "lucide-react";
import { IconButton } from "./button";

/** Which of several pages is shown, with buttons to the one before and the next. */
export const Pages = ({ page, pages, onPage }: { page: number; pages: number; onPage: (page: number) => void }) => (
  <span className="flex items-center gap-1 text-sm">
    <IconButton icon={ChevronLeft} label="Previous page" disabled={page <= 1} onClick={() => onPage(page - 1)} />
    <span className="font-mono text-xs">
      {page} / {pages}
    </span>
    <IconButton icon={ChevronRight} label="Next page" disabled={page >= pages} onClick={() => onPage(page + 1)} />
  </span>
);

import type { LinkEntry } from "../../core/run/entry";
import { escaped } from "../../core/shape/escaped";
import type { PlayerAssets } from "./context";

/** What the page tells the player; `join` is the link's token, empty where the session's secret is in the address. */
export type PageFacts = LinkEntry & { join: string };

/** The participant's page: nothing of Lapwing on it, only the study's title and colours and the player's script. */
export function participantPage({ script, styles, preload }: PlayerAssets, { entry, ...link }: PageFacts): string {
  const { title, language, direction, stageColor, textColor } = entry;
  // Data in a script element: with every "<" escaped it cannot end early.
  const facts = JSON.stringify({ ...link, entry }).replace(/</g, "\\u003c");
  return `<!doctype html>
<html lang="${escaped(language)}" dir="${direction}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<link rel="icon" href="data:,">
<meta name="robots" content="noindex">
<title>${escaped(title)}</title>
${styles.map((file) => `<link rel="stylesheet" href="${file}">`).join("\n")}
${preload.map((file) => `<link rel="modulepreload" href="${file}">`).join("\n")}
<script type="application/json" id="facts">${facts}</script>
<script type="module" src="${script}"></script>
</head>
<body class="participant" style="--stage-color: ${escaped(stageColor)}; --text-color: ${escaped(textColor)}">
<div id="stage" data-stage hidden></div>
<main id="page"><noscript><p>This study needs JavaScript. Switch it on in your browser, then load the page again.</p></noscript></main>
</body>
</html>
`;
}

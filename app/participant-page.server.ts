import type { PlayerAssets } from "~/server/http/context";

type Entry = { title: string; language: string; stageColor: string; textColor: string; join: string };

const escaped = (text: string) =>
  text.replace(/[&<>"]/g, (sign) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[sign] ?? sign);

/** The page a participant gets: nothing of Lapwing on it, only the study's title and colours and the player's script. */
export function participantPage(
  { script, styles, preload }: PlayerAssets,
  { title, language, stageColor, textColor, join }: Entry,
): Response {
  const html = `<!doctype html>
<html lang="${escaped(language)}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<link rel="icon" href="data:,">
<meta name="robots" content="noindex">
<title>${escaped(title)}</title>
${styles.map((file) => `<link rel="stylesheet" href="${file}">`).join("\n")}
${preload.map((file) => `<link rel="modulepreload" href="${file}">`).join("\n")}
<script type="module" src="${script}"></script>
</head>
<body class="participant" style="--stage-color: ${escaped(stageColor)}; --text-color: ${escaped(textColor)}" data-title="${escaped(title)}"${join ? ` data-join="${escaped(join)}"` : ""}>
<div id="stage" data-stage hidden></div>
<main id="page"><noscript><p>This study needs JavaScript. Switch it on in your browser, then load the page again.</p></noscript></main>
</body>
</html>
`;
  return new Response(html, { headers: { "Content-Type": "text/html; charset=utf-8", "Cache-Control": "no-store" } });
}

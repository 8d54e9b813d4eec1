/** How a report looks, on a screen of either theme and on paper. */
export const STYLE = `
:root{color-scheme:light dark;--ground:light-dark(#f6f4ee,#14181e);--sheet:light-dark(#fff,#1c222a);--ink:light-dark(#1b2430,#e8e4da);--soft:light-dark(#5a6472,#9aa3ae);--rule:light-dark(#d9d4c7,#323a44);--care:light-dark(#855610,#e3b05c)}
*{box-sizing:border-box}
body{margin:0;background:var(--ground);color:var(--ink);font:15px/1.5 system-ui,sans-serif}
main{max-width:960px;margin:0 auto;padding:32px 24px 64px}
h1{font-size:26px;line-height:1.2;margin:0}
h2{font-size:17px;margin:36px 0 8px;padding-bottom:6px;border-bottom:1px solid var(--ink)}
h3{font-size:15px;margin:0 0 4px}
p{margin:0 0 10px;max-width:72ch}
.soft{color:var(--soft)}.care{color:var(--care)}
.answer{font-size:19px;line-height:1.45;margin:20px 0 0}
.answer p{max-width:64ch}
table{border-collapse:collapse;width:100%;font-variant-numeric:tabular-nums;font-size:14px}
th{text-align:left;font-weight:600;padding:5px 12px 5px 0;vertical-align:top}
thead th{font-size:12px;font-weight:500;color:var(--soft)}
td{padding:5px 12px 5px 0;vertical-align:top}
tr{border-bottom:1px solid var(--rule)}
th[scope=row]{white-space:nowrap}
.n{text-align:right;white-space:nowrap}
.rail{width:38%;padding-right:24px}
.rail svg{display:block;width:100%;height:22px;overflow:visible}
.glyph{width:12px;height:12px;margin-right:6px;vertical-align:-1px}
.wide{overflow-x:auto;margin-bottom:16px}
.pair{display:grid;grid-template-columns:1fr 1fr;gap:16px;margin:0 0 24px;break-inside:avoid}
figure{margin:0}
figcaption{font-size:13px;margin-top:4px}
.strip{position:relative;aspect-ratio:16/10;background:var(--sheet);border:1px solid var(--rule);overflow:hidden}
.strip img{position:absolute;inset:0;width:100%;height:100%;object-fit:cover;object-position:top;visibility:hidden}
.strip img.still{visibility:visible}
code{font:12px/1.5 ui-monospace,monospace;overflow-wrap:anywhere}
@media (prefers-reduced-motion:no-preference){@media screen{.strip img.still{visibility:hidden}.strip img{animation-duration:var(--seconds);animation-timing-function:step-end;animation-iteration-count:infinite;animation-delay:var(--at)}}}
@media (max-width:700px){.pair{grid-template-columns:1fr}}
@media print{:root{color-scheme:light}body{background:#fff;font-size:11px}main{max-width:none;padding:0}.answer{font-size:14px}h2{margin-top:22px}tr,figure{break-inside:avoid}table{font-size:11px}}
`;

#include "core/exports/page.h"

namespace pipit
{

static constexpr char style[] = R"(<style>
:root{--paper:#fbf8f1;--ink:#28241f;--ink2:#6a6258;--line:#d8cfbf;--bad:#c0392b;--good:#1f7a6d}
@media (prefers-color-scheme: dark){:root{--paper:#221f1b;--ink:#ece6da;--ink2:#a79e90;--line:#463f36;--bad:#e57462;--good:#5cc2b0}}
body{background:var(--paper);color:var(--ink);font:15px/1.5 Inter,"DejaVu Sans",sans-serif;max-width:62rem;margin:2rem auto;padding:0 1rem}
h1{font-size:1.5rem;margin:0}h2{font-size:1.1rem;margin:2rem 0 .4rem}
table{border-collapse:collapse;width:100%}th{font-weight:normal;color:var(--ink2);text-align:left}
td,th{padding:.25rem .6rem .25rem 0;border-bottom:1px solid var(--line);vertical-align:top}
td.n,th.n{text-align:right;white-space:nowrap;font-variant-numeric:tabular-nums}
pre{font:13px/1.4 "DejaVu Sans Mono",monospace;margin:.3rem 0;overflow-x:auto;color:var(--ink2)}pre b{color:var(--ink)}
.good{color:var(--good)}.big{font-size:1.15rem;margin:.8rem 0}.bad{color:var(--bad)}.faint{color:var(--ink2)}svg{width:100%;height:auto;display:block}
svg .line{fill:none;stroke:var(--ink);stroke-width:1}svg .rule{stroke:var(--line)}svg .over{fill:var(--bad)}svg .before{fill:var(--ink2);stroke:var(--ink2)}svg .after{fill:var(--good);stroke:var(--good)}svg polyline{fill:none!important;stroke-width:2}svg text{stroke:none;fill:var(--ink2);font-size:11px}
</style>)";

QString pageOf(const QString &title, const QString &body)
{
    return "<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
           "content=\"width=device-width\"><title>" +
           title + "</title>" + style + "</head><body>" + body + "</body></html>\n";
}

} // namespace pipit

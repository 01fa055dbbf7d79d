"""How a report looks, on a screen and on paper."""

from typing import Final

STYLE: Final = """
:root{--ink:#16201d;--pencil:#54615e;--rule:#c5cdca}
*{box-sizing:border-box}
body{margin:0;color:var(--ink);background:#fff;font:16px/1.5 "Atkinson Hyperlegible",Arial,sans-serif}
main{max-width:46rem;margin:0 auto;padding:2rem 1.5rem}
h1{font-size:1.9rem;line-height:1.2;margin:0 0 .3rem}
h2{font-size:1.25rem;margin:0 0 .5rem;border-bottom:1px solid var(--rule);padding-bottom:.15rem}
p,ul{margin:0 0 .6rem}
.under,.note,footer{color:var(--pencil);font-size:.9rem}
.answer{border-left:6px solid var(--ink);padding:.2rem 0 .2rem 1rem;margin:1.4rem 0}
.answer h2{border:0;font-size:1.6rem;line-height:1.25}
section,nav{margin:0 0 1.8rem}
nav ol{margin:0;padding-left:1.4rem;columns:2}
a{color:inherit}
figure{margin:.6rem 0 1rem}
img{max-width:100%;max-height:16cm}
svg{display:block;max-width:100%;height:auto}
table{border-collapse:collapse;width:100%;font-size:.86rem;margin:.4rem 0 1rem}
th,td{border-bottom:1px solid var(--rule);padding:.2rem .45rem .2rem 0;text-align:left;vertical-align:top}
th{border-bottom-color:var(--ink);font-weight:600}
td{overflow-wrap:break-word}
.tight{white-space:nowrap}
th.number{white-space:normal}
.number{text-align:right;font-variant-numeric:tabular-nums;white-space:nowrap}
footer{border-top:1px solid var(--rule);padding-top:.6rem}
@page{margin:16mm 14mm}
@media print{
 body{font-size:10.5pt}
 main{max-width:none;padding:0}
 h2{break-after:avoid}
 figure,tr,.answer,nav,li{break-inside:avoid}
 thead{display:table-header-group}
 p:has(+figure),p:has(+ul),p:has(+table){break-after:avoid}
 tbody tr:first-child,tbody tr:nth-child(2){break-before:avoid}
 section>p{orphans:3;widows:3}
}
"""

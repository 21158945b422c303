// A recall list: what got a lot, a tip, a scale in doubt or somebody's day, each batch with its state.
#import "common.typ": *
#let trace = job.document
#let padded(n) = { let n = str(n); "0" * calc.max(0, 4 - n.len()) + n }

#show: sheet.with(trace.title + ", recall list", [Level Keel · recall list · #job.made.said])
#set page(flipped: true)

#text(size: 17pt, weight: "bold", trace.title)
#h(6pt)
#quiet[as of #job.made.said, #job.made.zone]
#block(above: 5pt, below: 8pt, trace.line)

#if trace.rows.len() > 0 {
  table(
    columns: (auto, 2fr, 1.4fr, auto, auto, 2fr, 1.6fr, 1.4fr, auto),
    stroke: (x, y) => (bottom: if y == 0 { .8pt + ink } else { .3pt + slate }),
    inset: (x: 3pt, y: 3pt), align: left + top,
    table.header(..("Batch", "Part, coat", "Product", "State", "Begun", "Lots", "People", "Rig, scales", "Defects").map(strong)),
    ..trace.rows.map(r => (
      mono(padded(r.number)), [#r.part_name, #r.coat], r.product, strong(r.state.replace("_", " ")), mono(r.begun),
      r.lots.join(", "), r.people.join(", "),
      ((of(r, "rig"),) + r.scales).filter(p => p != none).join(", "),
      if r.defects == 0 [none seen] else [#strong(str(r.defects)) seen],
    )).flatten()
  )
}
#block(above: 6pt, quiet[A batch stands here because the books say so. The same list is attached as #raw(job.attached.name).])

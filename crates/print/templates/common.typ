// Look shared by everything that is printed: ink on white, levels with word and figure, rules instead of boxes.
#let job = json("/job.json")
#let ink = rgb("#14242A")
#let slate = rgb("#4A585C")
#let tints = ("in": rgb("#1B6B66"), cannot_tell: rgb("#A66A06"), low: rgb("#A4371F"), high: rgb("#A4371F"))
#let vial-tint = rgb("#EDF2EF")

#let words = "Atkinson Hyperlegible Next"
#let figures = "Atkinson Hyperlegible Mono"

#let has(map, key) = type(map) == dictionary and map.at(key, default: none) != none
#let of(map, ..keys) = {
  let it = map
  for key in keys.pos() { it = if type(it) == dictionary { it.at(key, default: none) } else { none } }
  it
}
#let all(map, ..keys) = {
  let it = of(map, ..keys)
  if type(it) == array { it } else { () }
}
#let mono(it) = text(font: figures, size: 8.5pt, it)
#let quiet(it) = text(fill: slate, size: 8.5pt, it)

// So many rows of a list, and how many more the attached data hold.
#let some(list, show-one) = {
  for one in list.slice(0, calc.min(list.len(), job.rows)) { show-one(one) }
  let more = list.len() - job.rows
  if more > 0 { block(quiet[and #more more, in the attached data]) }
}

#let head(it) = block(above: 9pt, below: 4pt, width: 100%, stroke: (bottom: .6pt + ink), inset: (bottom: 2pt), text(weight: "bold", size: 10.5pt, it))

// A level: the bubble as long as the measurement is uncertain, hairlines at the limits, figure and word beside it.
#let level(it, named: none) = {
  let from = calc.clamp(it.at("from", default: 0), 0, 1)
  let to = calc.clamp(it.at("to", default: 0), 0, 1)
  let off = it.at("off", default: 0)
  let middle = if off < 0 { .03 } else if off > 0 { .97 } else { (from + to) / 2 }
  let wide = if off == 0 { calc.max(to - from, .035) } else { .035 }
  let tint = tints.at(if has(it, "verdict") { it.verdict } else { "none" }, default: slate)
  let vial = box(width: 100%, height: 11pt, {
    place(top, rect(width: 100%, height: 11pt, radius: 5.5pt, fill: vial-tint, stroke: .5pt + ink))
    place(top, dx: calc.clamp(middle - wide / 2, 0, 1 - wide) * 100%, dy: 1.8pt, rect(width: wide * 100%, height: 7.4pt, radius: 3.7pt, fill: tint))
    for hair in all(it, "hairlines") {
      place(top, dx: hair.at * 100%, line(angle: 90deg, length: 11pt, stroke: .9pt + ink))
    }
  })
  let limit(low) = all(it, "hairlines").filter(l => l.low == low).map(l => l.figure).join("")
  block(above: 3pt, below: 3pt, breakable: false, grid(
    columns: (30mm, 14mm, 52mm, 14mm, 1fr), column-gutter: 3pt, align: (left + horizon, right + horizon, horizon, left + horizon, left + horizon),
    if named != none { named } else { it.label },
    quiet(mono(limit(true))), vial, quiet(mono(limit(false))),
    { mono(strong(it.shown.figure)); [ #it.shown.unit ]; text(fill: tint, weight: "bold", it.word) },
  ))
}

#let sheet(title, foot, body) = {
  set document(title: title, author: "Level Keel", date: datetime(year: job.made.year, month: job.made.month, day: job.made.day, hour: job.made.hour, minute: job.made.minute, second: job.made.second))
  set page(paper: job.paper, margin: (x: 16mm, top: 14mm, bottom: 16mm), footer: context {
    set text(size: 8pt, fill: slate)
    grid(columns: (1fr, auto), foot, [page #counter(page).display() of #counter(page).final().first()])
  })
  set text(font: words, size: 9.5pt, fill: ink, lang: "en", hyphenate: false)
  set par(leading: .5em, spacing: .55em)
  pdf.attach("/" + job.attached.name, relationship: "source", mime-type: job.attached.mime, description: "The same as data")
  body
}

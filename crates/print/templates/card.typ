// The card of a batch on one or two pages: what a reader looks for first stands first; the whole log goes along as data.
#import "common.typ": *
#let card = job.document
#let view = card.view
#let accepted = of(card, "accepted")
#let signed = of(card, "signed")
#let stands = if accepted != none { "signed card" } else if signed != none { "signed, not accepted yet" } else { "not signed yet" }
#let number = { let n = str(view.number); "0" * calc.max(0, 4 - n.len()) + n }
#let shown(it) = if it == none { "–" } else { it.text }
#let dotted(list) = list.filter(p => p != none and p != "").join(" · ")

#show: sheet.with(view.title + ", batch card " + number, [Level Keel · batch #number · entry #card.head_seq · head #card.head_hash.slice(0, 12)])

#grid(
  columns: (1fr, auto), column-gutter: 8mm,
  {
    text(size: 17pt, weight: "bold", view.title)
    h(6pt)
    quiet(stands)
    block(above: 5pt, view.subtitle)
    block(above: 3pt, {
      [Work signed by ]
      strong(if signed == none { "nobody yet" } else { signed.by + ", " + signed.at })
      [. Accepted by ]
      strong(if accepted == none { "nobody yet" } else { accepted.by + ", " + accepted.at })
      [.]
    })
    for line in all(card, "noted") { block(above: 3pt, text(weight: "bold", line)) }
  },
  if job.code != none {
    align(center, { image(job.code, width: 23mm, alt: "Code that opens this card"); v(-5pt); quiet(mono(card.head_hash.slice(0, 12))) })
  },
)

#let ready = view.ready
#head[Conditions]
Air #shown(of(ready, "air")), surface #shown(of(ready, "surface")), material #shown(of(ready, "material")), humidity #shown(of(ready, "humidity")), dew point #shown(of(ready, "dew_point")).
#for one in all(ready, "levels").slice(0, calc.min(1, all(ready, "levels").len())) { level(one) }

#let document = of(card, "document")
#let lots = all(document, "lots")
#let checks = all(document, "checks")
#if lots.len() + checks.len() > 0 {
  head[Made ready]
  if lots.len() > 0 {
    block([Lots: #lots.map(l => l.component + " " + l.code + if has(l, "reason") { " (" + l.reason + ")" } else { "" }).join(" · ")])
  }
  let wrong = checks.filter(c => c.did == "failed" or has(c, "remark"))
  block({ if checks.len() == 1 [One check of the lists answered] else [#checks.len() checks of the lists answered]; if wrong.len() > 0 [, of these with a remark or not right:] else [.] })
  some(wrong, c => block(inset: (left: 6pt), [#if c.did == "failed" [*not right* ]#c.text#if has(c, "remark") [: #c.remark] #quiet[#c.at #c.by]]))
}

#head[Ratio]
#let proofs = all(view, "prove", "proofs")
#if proofs.len() == 0 [Nothing to prove.]
#some(proofs, p => level(p.level, named: p.title))

#let pots = all(card, "pots")
#if pots.len() > 0 {
  head[Pots]
  some(pots, p => block(breakable: false, above: 4pt, [*#p.title*: #dotted(p.lines.map(l => l.text))]))
}

#let sets = all(view, "set", "set_ups")
#head[Pressures and stream]
#if has(of(view, "set"), "rig_name") [With #view.set.rig_name. ]
#if sets.len() == 0 [None recorded.]
#some(sets, t => block(above: 3pt, ({
  let say(key, before) = if has(t, key) { before + t.at(key).text } else { none }
  (say("supply", "supply "), say("pot", "pot "), say("b", "B "), say("stream", "stream "), of(t, "word"), of(t, "pattern"), say("atomizing", "air "), of(t, "air_read"), say("cap", "cap "), of(t, "knobs"))
}).filter(p => p != none and p != "").join(", ")))

#head[Film]
#if has(view, "film_level") { level(view.film_level) } else [No comb reading.]
#if has(of(view, "spray"), "dry") { level(view.spray.dry) }

#let accept = of(view, "close", "accept")
#if accept != none and all(accept, "methods").len() > 0 {
  head[Acceptance]
  block(dotted(accept.methods.map(m => m.name + ": " + m.word)) + ".")
  let gauge = of(accept, "gauge")
  if has(gauge, "by") {
    block([#gauge.line, #gauge.count_line. #of(gauge, "foil", "text") #of(gauge, "drawn_by")])
    for area in all(gauge, "areas") {
      if has(area, "level") { level(area.level) }
      block(quiet(dotted(area.spots.slice(0, calc.min(area.spots.len(), job.rows)).map(s => str(s.spot_no) + ": " + if s.readings.len() > 0 { s.readings.join(" ") } else { "not read" }))))
    }
    if all(gauge, "areas").len() == 0 and has(gauge, "level") { level(gauge.level) }
  }
  let looks = all(accept, "look", "stages").map(s => s.looks.map(l => l + (name: s.name))).flatten()
  let photo(it) = if has(it, "photo") and it.photo.sha256 in job.photos { image(job.photos.at(it.photo.sha256), height: 20mm, alt: "As it was seen") }
  if looks.len() > 0 {
    let sample = of(accept, "look", "sample")
    let cells = looks.slice(0, calc.min(looks.len(), job.rows)).map(l => {
      block(breakable: false, { photo(l); [#l.name#if has(l, "zone") [, #l.zone]: *#if l.good [right] else [not right]*#if has(l, "text") [, #l.text]] })
    })
    if has(sample, "photo") { cells.push(block(breakable: false, { photo(sample); [should match #sample.text] })) }
    block(grid(columns: (1fr,) * 4, gutter: 9pt, ..cells))
    if looks.len() > job.rows { block(quiet[and #(looks.len() - job.rows) looks more, in the attached data]) }
  }
}
#let recoat = of(card, "recoat")
#if recoat != none {
  block([Next coat: #if has(recoat, "earliest") [not before #recoat.earliest] else [no earliest by sheet]#if has(recoat, "latest") [, without abrading until #recoat.latest].])
}

#let deviations = all(card, "deviations")
#head[Deviations]
#if deviations.len() == 0 [None.]
#some(deviations, d => block(breakable: false, above: 4pt, [#d.text #h(3pt) #strong(if has(d, "answer") { d.answer } else { "Not answered." })]))

#let releases = all(document, "releases")
#if releases.len() > 0 {
  head[Released]
  some(releases, r => block(above: 3pt, [#quiet[#r.at #r.by] #r.gate.replace("_", " ")#if has(r, "item") [, #r.item.replace("_", " ")]. #r.reason]))
}

#head[What this stands on]
#let log = all(card, "log")
#let struck = log.filter(l => has(l, "struck")).len()
#block({
  [The log has #log.len() entries]
  if struck > 0 [, #struck of them struck]
  [; this file carries the card as data: ]
  raw(job.attached.name)
  [.]
})
#block(above: 4pt, mono[core #card.core_version · entry #card.head_seq · head #card.head_hash])
#if job.checkpoint != none { block(above: 4pt, mono(job.checkpoint)) }
#block(above: 4pt, quiet[Times are those of #job.made.zone. The data sheet, local codes and licensed practice rule.])

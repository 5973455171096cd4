// What stands wrong on a page: text cut, text over text, what reaches past the edge or scrolls sideways. Returned as sentences.
() => {
  const wide = document.documentElement.clientWidth
  const shown = (box) => box.width > 1 && box.height > 1
  const said = (text) => text.trim().replace(/\s+/g, ' ').slice(0, 60)
  const kept = []
  const wrong = []
  const hidden = (element) =>
    !element.checkVisibility({ opacityProperty: true, visibilityProperty: true }) || !!element.closest('.sr-only')
  // What is scrolled, and what floats above the page, is judged against its own kind alone.
  const plane = (element) => {
    for (let at = element; at && at !== document.body; at = at.parentElement) {
      const style = getComputedStyle(at)
      if (style.position === 'fixed' || style.position === 'sticky') return at
      if (style.position === 'absolute' && style.zIndex !== 'auto') return at
    }
    return document.body
  }
  const scrolls = (element) => {
    for (let at = element.parentElement; at && at !== document.body; at = at.parentElement)
      if (/auto|scroll/.test(getComputedStyle(at).overflowX + getComputedStyle(at).overflowY)) return at
    return null
  }
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const element = node.parentElement
    if (!node.data.trim() || element.closest('script, style, option, template') || hidden(element)) continue
    const range = document.createRange()
    range.selectNodeContents(node)
    const boxes = [...range.getClientRects()].filter(shown)
    const held = scrolls(element)
    for (const box of boxes) {
      if (!held && box.right > wide + 1) wrong.push(`past the edge: "${said(node.data)}"`)
      // The room above and below the letters is nobody's.
      const spare = box.height * 0.15
      kept.push({ box: { left: box.left, right: box.right, top: box.top + spare, bottom: box.bottom - spare, height: box.height - 2 * spare }, node, element, plane: plane(element), held, text: said(node.data) })
    }
    for (let at = element; at && at !== document.body; at = at.parentElement) {
      const style = getComputedStyle(at)
      if (!/hidden|clip/.test(style.overflowX + style.overflowY)) continue
      const frame = at.getBoundingClientRect()
      if (!shown(frame)) break
      if (boxes.some((box) => box.right > frame.right + 2 || box.bottom > frame.bottom + 4 || box.left < frame.left - 2))
        wrong.push(`cut: "${said(node.data)}"`)
      break
    }
  }
  kept.sort((a, b) => a.box.top - b.box.top)
  for (let n = 0; n < kept.length; n++)
    for (let m = n + 1; m < kept.length && kept[m].box.top < kept[n].box.bottom; m++) {
      const [a, b] = [kept[n], kept[m]]
      if (a.node === b.node || a.plane !== b.plane || a.held !== b.held) continue
      const across = Math.min(a.box.right, b.box.right) - Math.max(a.box.left, b.box.left)
      const down = Math.min(a.box.bottom, b.box.bottom) - Math.max(a.box.top, b.box.top)
      if (across > 2 && down > Math.min(a.box.height, b.box.height) * 0.3) wrong.push(`over each other: "${a.text}" and "${b.text}"`)
    }
  for (const field of document.querySelectorAll('input[type=text], input:not([type]), select')) {
    if (hidden(field) || !shown(field.getBoundingClientRect())) continue
    if (field.tagName === 'INPUT' && field.scrollWidth > field.clientWidth + 2 && document.activeElement !== field)
      wrong.push(`cut in its field: "${said(field.value || field.placeholder)}"`)
  }
  for (const frame of document.querySelectorAll('main *')) {
    // A drawing along the hours of a session or a row of batches may be longer than a phone is wide.
    if (frame.querySelector(':scope > svg')) continue
    if (frame.scrollWidth <= frame.clientWidth + 1 || !/auto|scroll/.test(getComputedStyle(frame).overflowX)) continue
    if (!hidden(frame) && frame.tagName !== 'TEXTAREA') wrong.push(`sideways: "${said(frame.getAttribute('aria-label') ?? frame.innerText)}"`)
  }
  return [...new Set(wrong)]
}

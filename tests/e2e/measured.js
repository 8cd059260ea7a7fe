// What stands wrong on a page as it is drawn: what runs off the side, letters that are cut off, what is too
// small for a finger or hidden under something else, and how much of the height stays in place [%].
async () => {
  const out = { side: [], cut: [], small: [], covered: [], bars: 0 }
  const [W, H] = [innerWidth, innerHeight]
  const name = (e) => {
    const words = (e.getAttribute('aria-label') || e.textContent || '').trim().replace(/\s+/g, ' ')
    return `${e.tagName.toLowerCase()}.${e.getAttribute('class') ?? ''} "${words.slice(0, 40)}"`
  }
  const shown = (e) =>
    e.checkVisibility({ contentVisibilityAuto: true, visibilityProperty: true }) &&
    e.getBoundingClientRect().width > 0 &&
    e.getBoundingClientRect().height > 0 &&
    getComputedStyle(e).clipPath === 'none' &&
    e.getBoundingClientRect().right > -900 &&
    !e.closest('[aria-hidden=true],[inert]')
  const scrolls = (e) => {
    for (let p = e.parentElement; p && p !== document.body; p = p.parentElement)
      if (getComputedStyle(p).overflowX !== 'visible') return true
    return false
  }
  const all = [...document.body.querySelectorAll('*')].filter(shown)
  if (document.documentElement.scrollWidth > W) {
    const off = all.filter((e) => e.getBoundingClientRect().right > W + 1 && !scrolls(e))
    out.side = off.filter((e) => ![...e.children].some((c) => off.includes(c))).map(name)
    if (!out.side.length) out.side.push('something')
  }
  for (const e of all) {
    const s = getComputedStyle(e)
    const own = [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim())
    if (!own || s.display === 'inline' || s.textOverflow === 'ellipsis') continue
    if (/hidden|clip/.test(s.overflowX) && e.scrollWidth > e.clientWidth + 1) out.cut.push(name(e))
    else if (/hidden|clip/.test(s.overflowY) && e.scrollHeight > e.clientHeight + 3) out.cut.push(name(e))
  }
  const box = (e) =>
    e.closest('label,.el-input,.el-select,.el-checkbox,.el-radio,.el-input-number,.el-upload') ?? e
  const controls = all.filter((e) =>
    e.matches(
      'a[href],button,input:not([type=hidden]),select,textarea,summary,[role=button],[role=tab],' +
        '[role=switch],[role=checkbox],[role=radio],[tabindex="0"]',
    ),
  )
  for (const e of controls) {
    const r = box(e).getBoundingClientRect()
    const inText = e.tagName === 'A' && getComputedStyle(e).display === 'inline'
    if (!inText && Math.min(r.width, r.height) < 23.5)
      out.small.push(`${name(e)} ${Math.round(r.width)}x${Math.round(r.height)}`)
  }
  for (const e of controls) {
    if (e.disabled || getComputedStyle(e).opacity === '0') continue
    e.scrollIntoView({ block: 'center', inline: 'nearest', behavior: 'instant' })
    const r = e.getBoundingClientRect()
    const x = Math.min(Math.max((r.left + r.right) / 2, 1), W - 1)
    const y = Math.min(Math.max((r.top + r.bottom) / 2, 1), H - 1)
    const hit = document.elementFromPoint(x, y)
    if (r.bottom < 0 || r.top > H || r.right < 0 || r.left > W) out.covered.push(`${name(e)} out of reach`)
    else if (!hit || !(e.contains(hit) || hit.contains(e) || box(e).contains(hit)))
      out.covered.push(`${name(e)} under ${hit ? name(hit) : 'nothing'}`)
  }
  scrollTo(0, 300)
  for (const e of all.filter((x) => /fixed|sticky/.test(getComputedStyle(x).position))) {
    const r = e.getBoundingClientRect()
    if (r.width > W * 0.7 && r.top < H && r.bottom > 0) out.bars += Math.min(r.bottom, H) - Math.max(r.top, 0)
  }
  scrollTo(0, 0)
  out.bars = Math.round((100 * out.bars) / H)
  return out
}

// Makes the fonts every page needs: the letters, figures and signs of an English page in the weights that are set, cut
// from the whole fonts. Any other letter comes from those, when a name has one. Run before a build; see src/styles.css.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import subset from 'subset-font'

const ascii = Array.from({ length: 95 }, (_, at) => String.fromCharCode(32 + at)).join('')
const signs = '°±×÷·–—‘’“”„…−→←↑↓½¼¾²³µσ≤≥'
const weights = { wght: { min: 400, max: 700 } }

const FONTS = [
  ['next', '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal', weights],
  ['mono-400', '@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-400-normal'],
  ['mono-600', '@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-600-normal'],
]

const here = (path) => new URL(path, import.meta.url)
mkdirSync(here('src/fonts'), { recursive: true })
for (const [name, from, variationAxes] of FONTS) {
  const whole = readFileSync(here(`node_modules/${from}.woff2`))
  const plain = await subset(whole, ascii + signs, { targetFormat: 'woff2', variationAxes })
  writeFileSync(here(`src/fonts/${name}.woff2`), plain)
}

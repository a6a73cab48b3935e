// What the build adds to the bundle: a Brotli form beside each file, and the worker that keeps the shell of the pages.
import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { brotliCompressSync } from 'node:zlib'
import type { Plugin } from 'vite'

const COMPRESSED = /\.(js|css)$/

/** Beside each script and style sheet what a browser on this machine or behind TLS asks for. */
export const brotli = (): Plugin => ({
  name: 'jaxel-brotli',
  apply: 'build',
  generateBundle: {
    order: 'post',
    handler(_, bundle) {
      for (const file of Object.values(bundle)) {
        if (!COMPRESSED.test(file.fileName)) continue
        const source = brotliCompressSync(file.type === 'chunk' ? file.code : file.source)
        this.emitFile({ type: 'asset', fileName: `${file.fileName}.br`, source })
      }
    },
  },
})

/** The service worker with the list of this build's files; an older browser's fonts are left out. */
export const shell = (): Plugin => ({
  name: 'jaxel-shell',
  apply: 'build',
  generateBundle(_, bundle) {
    const files = Object.keys(bundle).filter((name) => name.startsWith('assets/') && !/\.(br|woff)$/.test(name))
    const list = JSON.stringify(['/', '/mark.svg', ...files.map((name) => `/${name}`)])
    const version = createHash('sha256').update(list).digest('hex').slice(0, 12)
    const source = readFileSync(new URL('./worker.js', import.meta.url), 'utf8')
    this.emitFile({
      type: 'asset',
      fileName: 'worker.js',
      source: source.replace('__SHELL__', `jaxel-shell-${version}`).replace('__FILES__', list),
    })
  },
})

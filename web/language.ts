import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { Plugin } from 'vite';

/**
 * Builds the interface in another language: what stands in src/words/XX is taken before what stands in src/words.
 * A file that is not translated yet speaks English.
 */
export function language(code: string): Plugin {
  return {
    name: 'nuvek-language',
    enforce: 'pre',
    async resolveId(wanted, from) {
      const found = await this.resolve(wanted, from, { skipSelf: true });
      if (!found || code === '' || !/\/src\/words\/\w+\.ts$/.test(found.id)) return found;
      const translated = join(dirname(found.id), code, found.id.slice(found.id.lastIndexOf('/') + 1));
      // A translation may build on the English one.
      return from !== translated && existsSync(translated) ? translated : found;
    },
    transformIndexHtml: (page) => (code === '' ? page : page.replace('<html lang="en"', `<html lang="${code}"`)),
  };
}

/** Writes a .gz and a .br beside each text asset, so that the server never compresses the same file twice. */
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { promisify } from "node:util";
import { brotliCompress, constants, gzip } from "node:zlib";

const compressible = /\.(js|css|svg|json|html|webmanifest)$/;

export async function compressAssets(folder) {
  const files = readdirSync(folder, { recursive: true }).filter((file) => compressible.test(file));
  await Promise.all(
    files.map(async (file) => {
      const path = join(folder, file);
      const content = readFileSync(path);
      if (content.length < 512) return;
      writeFileSync(`${path}.gz`, await promisify(gzip)(content, { level: 9 }));
      const quality = { params: { [constants.BROTLI_PARAM_QUALITY]: 10 } };
      writeFileSync(`${path}.br`, await promisify(brotliCompress)(content, quality));
    }),
  );
}

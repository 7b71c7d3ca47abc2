// Lays a compressed copy beside each file, so that the service sends it as it is.
import { readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

function* files(folder) {
  for (const name of readdirSync(folder)) {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) yield* files(path);
    else yield path;
  }
}

for (const path of [...files("target/site")]) {
  if (!/\.(js|css|svg|html)$/.test(path)) continue;
  const bytes = readFileSync(path);
  if (bytes.length < 1024) continue;
  writeFileSync(path + ".br", brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } }));
  writeFileSync(path + ".gz", gzipSync(bytes, { level: 9 }));
}

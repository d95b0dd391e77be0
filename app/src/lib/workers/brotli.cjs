/* The decompression of WOFF2: it unfolds a dictionary when it is loaded, which only who brings such a face in has to wait for. */
// eslint-disable-next-line @typescript-eslint/no-require-imports -- read when it is asked for, and not before
module.exports = (...what) => require('brotli/dec/decode.js').BrotliDecompressBuffer(...what);

/** The module build by its file name: Node would otherwise take the CommonJS build, whose names it cannot see. */
declare module 'opentype.js/dist/opentype.mjs' {
  export * from 'opentype.js';
}

/** The bundle of charts with two axes carries the whole library's types. */
declare module 'plotly.js-cartesian-dist-min' {
  export * from 'plotly.js';
}

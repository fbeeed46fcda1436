/** The version in `package.json`, put in when the page is built. */
declare const __VERSION__: string;

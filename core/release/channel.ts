/** The key of the reader site, the one channel there always is. */
export const SITE = "site";

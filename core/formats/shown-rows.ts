/** So many rows of each sheet are in a page that is only looked at. */
export const mostRowsShown = 1000

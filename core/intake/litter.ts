// Files that programs leave for themselves, which nobody would miss: they are told and not taken over.

const litter =
  /^(?:thumbs\.db|ehthumbs\.db|desktop\.ini|\.ds_store|\.localized|\.directory|~\$.*|\.~lock\..*#|~.*\.tmp|.*\.(?:tmp|part|crdownload|lnk|url)|\._.*|\.trash.*|\.spotlight.*|\.fseventsd)$/i
/** Of folders those that a system keeps for itself: they begin with `$`, or are hidden, or are called so. */
const litterFolder =
  /^(?:\$.*|system volume information|\.trash(?:es|-\d+)?|\.spotlight-v100|\.fseventsd|lost\+found|\.git)$/i

export const isLitter = (name: string): boolean => litter.test(name)
export const isLitterFolder = (name: string): boolean => litterFolder.test(name)

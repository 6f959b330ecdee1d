// Files that programs leave for themselves, which nobody would miss: they are told and not taken over.

const litter =
  /^(?:thumbs\.db|ehthumbs\.db|desktop\.ini|\.ds_store|\.localized|\.directory|~\$.*|\.~lock\..*#|~.*\.tmp|.*\.(?:tmp|part|crdownload|lnk|url)|\._.*|\.trash.*|\.spotlight.*|\.fseventsd)$/i
const litterFolder =
  /^(?:\$recycle\.bin|system volume information|\.trash(?:es|-\d+)?|\.spotlight-v100|\.fseventsd|lost\+found|\.git)$/i

export const isLitter = (name: string): boolean => litter.test(name)
export const isLitterFolder = (name: string): boolean => litterFolder.test(name)

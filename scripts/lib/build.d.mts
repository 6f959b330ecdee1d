export function bundleServer(entry: string, outfile: string): Promise<void>

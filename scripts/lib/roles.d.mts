export const ownerRole: string
export const applicationRole: string
export function roleUrls(superuserUrl: string): { ownerUrl: string; url: string }
export function makeRoles(superuserUrl: string): string

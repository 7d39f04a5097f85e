/**
 * Browsers ask for this name where a page is left before its own icon was read.
 * The address is relative: the server does not know under which name it was asked.
 */
export const GET = (): Response => new Response(null, { status: 308, headers: { location: "/icon.svg" } });

/** Browsers ask for this name where a page is left before its own icon was read. */
export const GET = (request: Request): Response => Response.redirect(new URL("/icon.svg", request.url), 308);

import { defineMiddleware } from 'astro:middleware';
import { completePolicy } from '../server/http/page-policy.ts';

/** Completes the policy that the page framework puts on pages. */
export const onRequest = defineMiddleware(async (_context, next) => {
  const response = await next();
  const policy = response.headers.get('content-security-policy');
  if (policy) response.headers.set('content-security-policy', completePolicy(policy));
  return response;
});

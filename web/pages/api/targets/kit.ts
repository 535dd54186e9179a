import { endpoint } from '../_endpoint.ts';

export const prerender = false;

/** Calibration garments and the table to fill in, as a ZIP archive. */
export const GET = endpoint(async ({ pool }) => {
  const { bytes } = await pool.writeTargetKit();
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'Content-Type': 'application/zip',
      'Content-Disposition': 'attachment; filename="cobweb-calibration-garments.zip"',
    },
  });
});

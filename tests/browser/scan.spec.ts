import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { expect, test } from './fixtures';
import { Ledger } from './ledger';

const [width, height] = [640, 480];

/** What a camera sees of the first label of a sheet: askew, on a grey door, as luminance. */
async function seen(page: Page): Promise<Buffer> {
  const grey = await page.getByTestId('sheet').evaluate(
    async (sheet, [w, h]) => {
      const picture = sheet as HTMLImageElement;
      await picture.decode();
      const canvas = document.createElement('canvas');
      [canvas.width, canvas.height] = [w, h];
      const ink = canvas.getContext('2d');
      if (!ink) {
        return [];
      }
      ink.fillStyle = '#778';
      ink.fillRect(0, 0, w, h);
      // 64 by 34 mm at 7 dots a millimetre, turned by a tenth of a right angle.
      const dots = 7;
      ink.translate(70, 190);
      ink.rotate(-0.16);
      ink.beginPath();
      ink.rect(0, 0, 64 * dots, 33.6 * dots);
      ink.clip();
      ink.fillStyle = '#fff';
      ink.fillRect(0, 0, w, h);
      ink.drawImage(picture, -7 * dots, -7 * dots, 210 * dots, 297 * dots);
      const { data } = ink.getImageData(0, 0, w, h);
      return Array.from(
        { length: w * h },
        (_, i) => 0.299 * (data[4 * i] ?? 0) + 0.587 * (data[4 * i + 1] ?? 0) + 0.114 * (data[4 * i + 2] ?? 0),
      );
    },
    [width, height] as const,
  );
  return Buffer.from(grey.map(Math.round));
}

/** A film of one picture as YUV4MPEG2, which Chromium shows as its camera. */
function film(luminance: Buffer): string {
  const colourless = Buffer.alloc((width * height) / 2, 128);
  const frame = Buffer.concat([Buffer.from('FRAME\n'), luminance, colourless]);
  const path = join(mkdtempSync(join(tmpdir(), 'ledger-film-')), 'label.y4m');
  writeFileSync(
    path,
    Buffer.concat([Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420jpeg\n`), frame, frame, frame]),
  );
  return path;
}

const known = () => {
  localStorage.setItem('person-id', 'edda');
  localStorage.setItem('person-name', 'Edda');
};

test('a label before the camera opens its machine; without leave to film it says what to do', async ({
  edda: page,
}) => {
  const ledger = await Ledger.start('--Ledger:PublicAddress', 'https://ledger.example');
  try {
    await page.goto(`${ledger.url}/labels?machines=LY-07`);
    const picture = film(await seen(page));
    const open = (...more: string[]) =>
      chromium.launch({
        executablePath: '/usr/bin/chromium',
        args: ['--no-sandbox', '--disable-gpu', '--use-fake-device-for-media-stream', ...more],
      });
    const filming = await open('--use-fake-ui-for-media-stream', `--use-file-for-fake-video-capture=${picture}`);
    const phone = await filming.newPage({ viewport: { width: 390, height: 844 } });
    await phone.addInitScript(known);
    await phone.goto(`${ledger.url}/scan`);
    await phone.getByRole('button', { name: 'By camera' }).click();
    await phone.waitForURL(`${ledger.url}/machines/LY-07/door`);
    await filming.close();

    const refusing = await open();
    const other = await refusing.newPage();
    await other.addInitScript(known);
    await other.addInitScript(() => {
      navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException('no', 'NotAllowedError'));
    });
    await other.goto(`${ledger.url}/scan`);
    await other.getByRole('button', { name: 'By camera' }).click();
    await expect(other.getByRole('status')).toContainText('Take a picture of the label instead');
    await expect(other.getByRole('button', { name: 'By camera' })).toBeVisible();
    await refusing.close();
  } finally {
    await page.close();
    await ledger.kill();
  }
});

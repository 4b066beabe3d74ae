import type decode from 'jsqr';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { Frame } from '../ui/Frame';
import { Problem } from '../ui/Problem';

const largest = 1600;

/** Comes with the first look through the camera or the first picture. */
const decoder = () => import('jsqr').then((m) => m.default);
const looksEveryMs = 200;

/** The page within the ledger that a label's code leads to; null where it is no label of a ledger. */
function pageOf(text: string): string | null {
  try {
    const { pathname } = new URL(text);
    const at = pathname.indexOf('/machines/');
    return at < 0 ? null : pathname.slice(at);
  } catch {
    return null;
  }
}

/** Reads the code of a label by the camera, or from a picture where no camera may be used. */
export function ScanPage() {
  const go = useNavigate();
  const video = useRef<HTMLVideoElement>(null);
  const [says, setSays] = useState('');
  const [error, setError] = useState<Error | null>(null);
  const mayFilm = 'mediaDevices' in navigator && window.isSecureContext;
  const [films, setFilms] = useState(false);
  const open = (text: string) => {
    const page = pageOf(text);
    if (page) {
      void go(page);
    } else {
      setSays(`The code says "${text.slice(0, 80)}"; that is no label of a ledger.`);
    }
  };
  useEffect(() => {
    if (!films) {
      return;
    }
    let stream: MediaStream | undefined;
    let timer: ReturnType<typeof setInterval> | undefined;
    let isOver = false;
    const look = async () => {
      try {
        stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } });
      } catch {
        setFilms(false);
        setSays('The camera may not be used here. Take a picture of the label instead.');
        return;
      }
      const film = video.current;
      if (isOver || !film) {
        stream.getTracks().forEach((track) => track.stop());
        return;
      }
      film.srcObject = stream;
      const [decoded] = await Promise.all([decoder(), film.play()]);
      timer = setInterval(() => {
        const found = film.videoWidth > 0 ? read(decoded, film, film.videoWidth, film.videoHeight) : null;
        if (found) {
          open(found);
        }
      }, looksEveryMs);
    };
    void look();
    return () => {
      isOver = true;
      clearInterval(timer);
      stream?.getTracks().forEach((track) => track.stop());
    };
    // Begins anew only when the camera is turned on.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [films]);
  const fromPicture = async (file: File | undefined) => {
    if (!file) {
      return;
    }
    try {
      setError(null);
      const picture = await createImageBitmap(file);
      const found = read(await decoder(), picture, picture.width, picture.height);
      if (found) {
        open(found);
      } else {
        setSays('No code is to be read in this picture. Nearer, and square to the label.');
      }
    } catch {
      setError(new Error('This file is no picture that can be read.'));
    }
  };
  return (
    <Frame title="Scan a label">
      <h2 className="title">Scan a label</h2>
      <p className="mt-2 flex flex-wrap items-center gap-3">
        {mayFilm && (
          <button type="button" className="action" onClick={() => setFilms(!films)}>
            {films ? 'Camera off' : 'By camera'}
          </button>
        )}
        <label className="quiet inline-flex min-h-[44px] items-center">
          From a picture
          <input
            type="file"
            accept="image/*"
            capture="environment"
            className="sr-only"
            onChange={(event) => {
              void fromPicture(event.target.files?.[0]);
              event.target.value = '';
            }}
          />
        </label>
      </p>
      {!mayFilm && (
        <p className="mt-2 text-[14px] text-ink-2">
          A camera needs HTTPS (serve --certificate). A picture of the label does too.
        </p>
      )}
      <p role="status" className="mt-2 min-h-[24px]">
        {says}
      </p>
      <Problem error={error} />
      {films && <video ref={video} muted playsInline className="mt-2 w-full max-w-[640px] bg-iron" />}
    </Frame>
  );
}

/** The text of the code in a picture; null where there is none to be read. */
function read(decoded: typeof decode, picture: CanvasImageSource, width: number, height: number): string | null {
  const scale = Math.min(1, largest / Math.max(width, height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(width * scale);
  canvas.height = Math.round(height * scale);
  const ink = canvas.getContext('2d', { willReadFrequently: true });
  if (!ink) {
    return null;
  }
  ink.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const { data } = ink.getImageData(0, 0, canvas.width, canvas.height);
  return decoded(data, canvas.width, canvas.height)?.data ?? null;
}

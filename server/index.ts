/** Serves the built app. Data never comes here: it lives in the browser. */
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import compression from 'compression';
import express, { type ErrorRequestHandler } from 'express';
import helmet from 'helmet';

const dist = fileURLToPath(new URL('../dist', import.meta.url));
const port = Number(process.env.PORT ?? 4173);
/** This machine alone, unless told otherwise. */
const host = process.env.HOST || '127.0.0.1';

if (!existsSync(`${dist}/index.html`)) {
  console.error('The app is not built yet: run "npm start", or "npm run build" first.');
  process.exit(1);
}

const app = express();
app.disable('x-powered-by');
app.use(
  helmet({
    contentSecurityPolicy: {
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'"],
        // Mantine and the engraver set styles on elements.
        styleSrc: ["'self'", "'unsafe-inline'"],
        workerSrc: ["'self'", 'blob:'],
        imgSrc: ["'self'", 'data:', 'blob:'],
        connectSrc: ["'self'"],
        fontSrc: ["'self'", 'data:'],
        objectSrc: ["'none'"],
        // The app is served over plain http on this machine.
        upgradeInsecureRequests: null,
      },
    },
    strictTransportSecurity: false,
  }),
);
app.use(compression());
app.use('/assets', express.static(`${dist}/assets`, { immutable: true, maxAge: '1y', fallthrough: false }));
app.use(express.static(dist, { index: false, maxAge: 0, dotfiles: 'ignore' }));
/** Addresses of screens; whatever else is asked for is not there. */
const SCREENS =
  /^\/(add|file|new|song|tuner|pupils(\/[^/]+)?|porch(\/[^/]+)?|tune\/[^/]+(\/(source|key|shapes|chords|words))?|arrangement\/[^/]+(\/(handout|lesson(\/[^/]+)?))?)?\/?$/;

app.get('/{*splat}', (request, response, next) => {
  const known = SCREENS.test(request.path);
  // A file that is not there is no screen; a page that is not there says so in the app's own words.
  if (!known && /\.[^/]*$/.test(request.path)) {
    next();
    return;
  }
  response
    .status(known ? 200 : 404)
    .sendFile(`${dist}/index.html`, { headers: { 'Cache-Control': 'no-cache' } });
});
app.use((_request, response) => {
  response.status(404).type('text').send('There is no such file here.');
});
const plainly: ErrorRequestHandler = (error, _request, response, _next) => {
  // Paths and traces are nobody's business but the log's.
  const status = (error as { status?: number }).status ?? 500;
  if (status >= 500) console.error(error);
  response
    .status(status)
    .type('text')
    .send(status === 404 ? 'There is no such file here.' : 'This can not be served.');
};
app.use(plainly);

const server = app.listen(port, host, error => {
  if (error) {
    console.error(`Port ${port} can't be used (${error.message}). Choose another: PORT=5000 npm start`);
    process.exit(1);
  }
  const address = server.address();
  console.log(
    `Velvet Porch is open at http://localhost:${typeof address === 'object' && address ? address.port : port}`,
  );
});

/** Serves the built app. Data never comes here: it lives in the browser. */
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import compression from 'compression';
import express from 'express';
import helmet from 'helmet';

const dist = fileURLToPath(new URL('../dist', import.meta.url));
const port = Number(process.env.PORT ?? 4173);

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
app.use(express.static(dist, { index: false, maxAge: 0 }));
// Every other address is a screen of the app.
app.get('/{*splat}', (_request, response) => {
  response.sendFile(`${dist}/index.html`, { headers: { 'Cache-Control': 'no-cache' } });
});

const server = app.listen(port, error => {
  if (error) {
    console.error(`Port ${port} can't be used (${error.message}). Choose another: PORT=5000 npm start`);
    process.exit(1);
  }
  const address = server.address();
  console.log(
    `Velvet Porch is open at http://localhost:${typeof address === 'object' && address ? address.port : port}`,
  );
});

/** The application on the device: all of its files, so that it begins without a network. Data is not kept here but in the
 * device's database (src/device): what is asked of the server goes to the server. */
import { cacheNames, clientsClaim } from "workbox-core";
import {
  cleanupOutdatedCaches,
  createHandlerBoundToURL,
  getCacheKeyForURL,
  precacheAndRoute,
} from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";

declare const self: Window &
  typeof globalThis & {
    __WB_MANIFEST: { url: string; revision: string | null }[];
    skipWaiting: () => Promise<void>;
  };

cleanupOutdatedCaches();
precacheAndRoute(self.__WB_MANIFEST);
registerRoute(new NavigationRoute(createHandlerBoundToURL("/"), { denylist: [/^\/api\//] }));
clientsClaim();
// A new version waits until somebody takes it: never in the middle of a flight.
self.addEventListener("message", (event: MessageEvent<{ type?: string } | null>) => {
  if (event.data?.type === "SKIP_WAITING") void self.skipWaiting();
  if (event.data?.type === "RENEW_PAGE") void renewPage();
});

/** The page says where the school's recorder is: it is fetched again whenever the application begins with a network. One
 * of another build belongs to other files and is not kept. */
async function renewPage() {
  const key = getCacheKeyForURL("/");
  const cache = await caches.open(cacheNames.precache);
  const [kept, fresh] = await Promise.all([
    key ? cache.match(key) : undefined,
    fetch("/", { cache: "no-store" }),
  ]);
  if (!key || !kept || !fresh.ok) return;
  const build = (html: string) => /\/assets\/index-[^"]+\.js/.exec(html)?.[0];
  if (build(await kept.text()) === build(await fresh.clone().text())) await cache.put(key, fresh);
}

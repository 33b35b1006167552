/** The application on the device: all of its files, so that it begins without a network. Data is not kept here but in the
 * device's database (src/device): what is asked of the server goes to the server. */
import { clientsClaim } from "workbox-core";
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from "workbox-precaching";
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
});

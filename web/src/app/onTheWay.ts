import type { Router } from "vue-router";

/**
 * What is merely looked at is noted in the address by `replace`. It must not call back somebody who is on the way to
 * another screen, from the moment a link is followed until that screen is there, or cannot come.
 */
export function keepOnTheWay(router: Router): void {
  const { push, replace } = router;
  let leavingFor: string | undefined;
  router.push = (to) => {
    leavingFor = router.resolve(to).path;
    return push(to);
  };
  router.replace = (to) => {
    const here = router.currentRoute.value.path;
    const leaving = leavingFor !== undefined && leavingFor !== here;
    return leaving && router.resolve(to).path === here ? Promise.resolve() : replace(to);
  };
  // The browser's Back and Forward come without a push.
  router.beforeEach(({ path }) => {
    leavingFor = path;
  });
  router.afterEach(({ path }) => {
    if (leavingFor === path) leavingFor = undefined;
  });
  router.onError(() => {
    leavingFor = undefined;
  });
}

import { queryOptions } from '@tanstack/react-query';
import { answered, ofShop } from './client';

/** Where this screen stands: on the serving machine, or a device of the network with whoever is signed on. */
export const doorQuery = queryOptions({
  queryKey: ['door'],
  queryFn: () => answered(ofShop.GET('/api/door')),
});

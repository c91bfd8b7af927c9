import { at } from '../kit/place';
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api, type Problem, type Schema } from '../kit/client';

export type Photo = Schema['PhotoAnswer'];

/** What photos are of: a cut that is logged, or one that is being logged. */
export type PhotosOf = { cut_id: number } | { log_key: string };

export const photosQuery = (trialId: number, of: PhotosOf) =>
  queryOptions({
    queryKey: ['photos', trialId, of],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/photos', {
          params: { path: { trial_id: trialId }, query: of },
        }),
      ),
  });

export const pictureOf = (photo: Photo, size: 'picture' | 'thumbnail'): string =>
  at(`/api/photos/${photo.id}/${size}?digest=${photo.digest}`);

/** Sends a photo as the camera made it; the server turns it upright and takes out where it was taken. */
export function useAddPhoto(trialId: number, of: PhotosOf) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (file: File) => {
      const query = new URLSearchParams(
        'cut_id' in of ? { cut_id: String(of.cut_id) } : { log_key: of.log_key },
      );
      const person = localStorage.getItem('person');
      const response = await fetch(at(`/api/trials/${trialId}/photos?${query.toString()}`), {
        method: 'POST',
        body: file,
        headers: person ? { 'orthotome-person': encodeURIComponent(person) } : {},
      });
      const body = (await response.json()) as Photo | Problem;
      return answered<Photo>(
        Promise.resolve(response.ok ? { data: body as Photo, response } : { error: body, response }),
      );
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['photos', trialId] }),
  });
}

export function useStrikePhoto(trialId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ photo, out }: { photo: Photo; out: boolean }) =>
      answered(
        api.PUT('/api/photos/{photo_id}/struck', {
          params: { path: { photo_id: photo.id }, query: { out } },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['photos', trialId] }),
  });
}

/** What is stored: conversions, photographs and the library. */
import { queryOptions } from '@tanstack/react-query';
import { api, reach, unwrap } from './client';

export const conversionsQuery = () =>
  queryOptions({
    queryKey: ['conversions'],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.GET('/api/v1/conversions', { signal }))),
  });

export const conversionQuery = (id: string) =>
  queryOptions({
    queryKey: ['conversion', id],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.GET('/api/v1/conversions/{id}', { params: { path: { id } }, signal }))),
    // The workbench keeps its own copy and merges; a refetch behind its back would only waste a request.
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });

/** How each variant stands; a later change of the conversion asks anew. */
export const glanceQuery = (id: string, updatedAt: string) =>
  queryOptions({
    queryKey: ['glance', id, updatedAt],
    queryFn: ({ signal }) =>
      reach(async () => unwrap(await api.GET('/api/v1/conversions/{id}/glance', { params: { path: { id } }, signal }))),
    staleTime: 60_000,
  });

export const libraryQuery = () =>
  queryOptions({
    queryKey: ['library'],
    queryFn: ({ signal }) => reach(async () => unwrap(await api.GET('/api/v1/library', { signal }))),
    staleTime: 60_000,
  });

/** Photographs of a conversion, without their pixels. */
export const photographsQuery = (id: string) =>
  queryOptions({
    queryKey: ['photographs', id],
    queryFn: ({ signal }) =>
      reach(async () =>
        unwrap(await api.GET('/api/v1/conversions/{id}/photographs', { params: { path: { id } }, signal })),
      ),
    staleTime: 10_000,
  });

// What the shop's book asks and says.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import { keys } from "../app/changes";

export interface Opened {
  subject: string;
  place: string;
  against: string;
}

export const useBook = (query: Opened) =>
  useQuery({
    queryKey: [...keys.book, query],
    placeholderData: keepPreviousData,
    queryFn: () => ask(api.GET("/api/book", { params: { query } })),
  });

export const useBookPair = (subject: string, place: string, a: string, b: string) =>
  useQuery({
    queryKey: [...keys.book, "pair", subject, place, a, b],
    enabled: a !== "" && b !== "" && a !== b,
    queryFn: () => ask(api.GET("/api/book/pair", { params: { query: { subject, place, a, b } } })),
  });

export const useUses = () =>
  useQuery({ queryKey: [...keys.book, "uses"], queryFn: () => ask(api.GET("/api/book/uses")) });

/** What this shop would learn most from after a trial. */
export const useNext = (id: number, enabled: boolean) =>
  useQuery({
    queryKey: keys.part(id, "next"),
    enabled,
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/next", { params: { path: { trial_id: id } } })),
  });

export const callThing = (body: Schemas["CallEntry"]) => ask(api.POST("/api/book/calls", { body }));
export const forgetCall = (call_id: number) =>
  ask(api.DELETE("/api/book/calls/{call_id}", { params: { path: { call_id } } }));
export const joinTables = (body: Schemas["JoinEntry"]) => ask(api.POST("/api/book/joins", { body }));
export const partTables = (join_id: number) =>
  ask(api.DELETE("/api/book/joins/{join_id}", { params: { path: { join_id } } }));
export const beginTest = (trial_id: number, body: Schemas["BeginEntry"]) =>
  ask(api.POST("/api/trials/{trial_id}/next", { params: { path: { trial_id } }, body }));

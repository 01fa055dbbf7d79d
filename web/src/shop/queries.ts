// What is asked of the shop.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, asFile, ask, type Schemas } from "../api/client";
import { keys } from "../app/changes";

export const useShop = () => useQuery({ queryKey: keys.shop, queryFn: () => ask(api.GET("/api/shop")) });

const glue = (id: number) => ({ params: { path: { glue_id: id } } });
const board = (id: number) => ({ params: { path: { board_id: id } } });
const clamps = (id: number) => ({ params: { path: { clamps_id: id } } });
const rig = (id: number) => ({ params: { path: { rig_id: id } } });

export const addGlue = (body: Schemas["GlueEntry"]) => ask(api.POST("/api/shop/glues", { body }));
export const editGlue = (id: number, field: string, was: string, now: string) =>
  ask(api.PATCH("/api/shop/glues/{glue_id}", { ...glue(id), body: { field, was, now } }));
export const editFigure = (id: number, field: string, was: string, now: string) =>
  ask(api.PATCH("/api/shop/glues/{glue_id}/figures", { ...glue(id), body: { field, was, now } }));
export const removeGlue = (id: number) => ask(api.DELETE("/api/shop/glues/{glue_id}", glue(id)));

/** Put boards into the shop, or change one that is there. */
export const saveBoard = (now: Schemas["StockBoardEntry"], there?: Schemas["StockBoardView"]) =>
  there
    ? ask(api.PUT("/api/shop/boards/{board_id}", { ...board(there.id), body: { was: there.entry, now } }))
    : ask(api.POST("/api/shop/boards", { body: now }));
export const removeBoard = (id: number) => ask(api.DELETE("/api/shop/boards/{board_id}", board(id)));
export const sendBoardPhoto = (id: number, file: File) =>
  ask(
    api.POST("/api/shop/boards/{board_id}/photo", {
      ...board(id),
      ...asFile(file),
    }),
  );

/** Put clamps or weights into the shop, or change some that are there. */
export const saveClamps = (now: Schemas["ClampsEntry"], there?: Schemas["ClampsView"]) =>
  there
    ? ask(api.PUT("/api/shop/clamps/{clamps_id}", { ...clamps(there.id), body: { was: there.entry, now } }))
    : ask(api.POST("/api/shop/clamps", { body: now }));
export const removeClamps = (id: number) => ask(api.DELETE("/api/shop/clamps/{clamps_id}", clamps(id)));

const plate = (id: number) => ({ params: { path: { plate_id: id } } });
/** Add plates, or change how many there are. */
export const savePlate = (now: Schemas["PlateEntry"], there?: Schemas["PlateView"]) =>
  there
    ? ask(api.PUT("/api/shop/plates/{plate_id}", { ...plate(there.id), body: { was: there.entry, now } }))
    : ask(api.POST("/api/shop/plates", { body: now }));
export const removePlate = (id: number) => ask(api.DELETE("/api/shop/plates/{plate_id}", plate(id)));

/** Add a rig, or change its card. */
export const saveRig = (now: Schemas["RigEntry"], there?: Schemas["RigView"]) =>
  there
    ? ask(api.PUT("/api/shop/rigs/{rig_id}", { ...rig(there.id), body: { was: there.entry, now } }))
    : ask(api.POST("/api/shop/rigs", { body: now }));
export const removeRig = (id: number) => ask(api.DELETE("/api/shop/rigs/{rig_id}", rig(id)));
export const chooseUnit = (id: number, printed: string, right: string) =>
  ask(api.POST("/api/shop/rigs/{rig_id}/choose-unit", { ...rig(id), body: { printed, right } }));

export const layAirOver = (file: File) =>
  ask(
    api.POST("/api/shop/air", {
      params: { query: { name: file.name } },
      ...asFile(file, "text/csv"),
    }),
  );

export const takeAirAway = (id: number) =>
  ask(api.DELETE("/api/shop/air/{log_id}", { params: { path: { log_id: id } } }));

export const makeCopy = () => ask(api.POST("/api/copies"));

export const renewPairing = () => ask(api.POST("/api/devices/renew"));

export const undoShop = () => ask(api.POST("/api/shop/undo"));

export const setUnit = (field: string, was: string, now: string) =>
  ask(api.PATCH("/api/shop/units", { body: { field, was, now } }));

export const useAirLogs = () =>
  useQuery({ queryKey: ["shop", "air"], queryFn: () => ask(api.GET("/api/shop/air")) });

export const useCopies = () => useQuery({ queryKey: ["copies"], queryFn: () => ask(api.GET("/api/copies")) });

export const useDevices = () =>
  useQuery({ queryKey: ["devices"], queryFn: () => ask(api.GET("/api/devices")) });

/** What is known of a rig's truth. */
export const useTruth = (id: number) =>
  useQuery({
    queryKey: [...keys.shop, "truth", id],
    queryFn: () => ask(api.GET("/api/shop/rigs/{rig_id}/truth", rig(id))),
  });
/** What known weights would make of a rig; nothing is kept. */
export const useFit = (id: number, points: Schemas["PointTyped"][]) =>
  useQuery({
    queryKey: [...keys.shop, "fit", id, points],
    enabled: points.length > 2,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () => ask(api.POST("/api/shop/rigs/{rig_id}/fit", { ...rig(id), body: { points } })),
  });
export const calibrate = (id: number, points: Schemas["PointTyped"][]) =>
  ask(api.POST("/api/shop/rigs/{rig_id}/calibrate", { ...rig(id), body: { points } }));
export const checkRig = (id: number, shown: string) =>
  ask(api.POST("/api/shop/rigs/{rig_id}/check", { ...rig(id), body: { shown } }));

// What is asked of the shop.
import { useQuery } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { keys } from "../app/changes";

export const useShop = () => useQuery({ queryKey: keys.shop, queryFn: () => ask(api.GET("/api/shop")) });

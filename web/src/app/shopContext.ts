// Opens the shop's drawer from anywhere.
import { createContext, useContext } from "react";

export const ShopContext = createContext<() => void>(() => undefined);
export const useOpenShop = () => useContext(ShopContext);

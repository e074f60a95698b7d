import { list, object } from "../shape/compound";
import { oneOf } from "../shape/plain";
import { choosing, lazily, nullable, type Shape } from "../shape/shape";
import { calculationNames, isCalculation, type Calculation, type Operand } from "./calculation";
import { binding, scalar, type Binding, type Scalar } from "./ref";

const calculation: Shape<Calculation> = lazily(() =>
  object({ calculate: oneOf(...calculationNames), of: list(operand, 1, 20) }),
);
export const operand: Shape<Operand> = nullable(
  choosing<Scalar | Binding | Calculation>((value) =>
    isCalculation(value) ? calculation : typeof value === "object" && value !== null ? binding : scalar,
  ),
);

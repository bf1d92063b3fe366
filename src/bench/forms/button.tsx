/** Bootstrap's button with a type that the 3D library's JSX additions do not blow up. */
import { Button as Plain, type ButtonProps } from 'react-bootstrap'
import type { ForwardRefExoticComponent, RefAttributes } from 'react'

export const Button = Plain as unknown as ForwardRefExoticComponent<
  Omit<ButtonProps, 'as'> & RefAttributes<HTMLButtonElement>
>

import { Component } from 'lucide-react'
import { defineTool } from '../tool'

export const recogniseTool = defineTool({ kind: 'convert/recognise', icon: Component })

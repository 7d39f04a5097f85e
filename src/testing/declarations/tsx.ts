import type { Declarations } from "@/testing/declarations/declarations";

export const tsx: Declarations = {
  language: "tsx",
  source: `import React, { useState as use } from 'react';
import { Button } from '@ui/button';
export const Card: React.FC<{ a: number }> = ({ a }) => { const [s, set] = use(0); return <Button.Big onClick={() => a > 1 && set(1)}>{s ? <b/> : <Button x={s}/>}</Button.Big>; };
export default function Page() { return <><Card a={1} /><React.Fragment /></>; }
export const Memo = React.memo(function Inner({ q }: { q: string }) { return <i>{q}</i>; });
class Old extends React.Component { render() { return <Card a={2} />; } }
`,
  sections: [
    "function Card 3-3 (options) 3",
    "function Page 4-4 () 1",
    "constant Memo 5-5 () 1",
    "class Old 6-6 () 1",
    "method Old.render 6-6 () 1",
  ],
  imports: [
    "1 react [default, useState] React=react default, use=react useState",
    "2 @ui/button [Button] Button=@ui/button Button",
  ],
  uses: [
    "3 React.FC",
    "3 use",
    "3 Button.Big",
    "3 Button",
    "3 Button.Big",
    "4 React.Fragment",
    "5 React.memo",
    "6 React.Component",
  ],
};

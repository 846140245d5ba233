import { Jug } from '../parts/Jug';
import { SignInForm, type SignInProps } from './SignInForm';
import classes from './SignInScreen.module.css';

const MARK = [
  { band: 'sugars', title: 'sugars', share: 0.55 },
  { band: 'water', title: 'water', share: 0.45 },
];

/** Sign in; in demo mode the invented people are one press away. */
export function SignInScreen({ demoSignIns }: SignInProps) {
  return (
    <main className={classes.page}>
      <div className={classes.card}>
        <div className={classes.head}>
          <div aria-hidden="true" className={classes.jug}>
            <Jug bands={MARK} volume_ml={1000} mass_g={1250} size="small" />
          </div>
          <h1>Oaken Jug</h1>
        </div>
        <SignInForm demoSignIns={demoSignIns} />
      </div>
    </main>
  );
}

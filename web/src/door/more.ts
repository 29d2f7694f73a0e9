/** The pages at the door besides signing in, which few people ever need: fetched when somebody does. */
export { ComeIn, Forgotten, NewPassword } from './Letters';
export { GuestDoor } from './GuestDoor';
export { Invitation } from './Invitation';

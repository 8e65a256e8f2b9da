// The page begins: first its words, then everything that speaks them.
import { readWords } from './words/say'

void readWords().then(() => import('./start'))

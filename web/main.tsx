import { createRoot } from 'react-dom/client'
import './design/theme.css'
import { Gate } from './app/gate'

createRoot(document.getElementById('root')!).render(<Gate />)

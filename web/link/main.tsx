import { createRoot } from 'react-dom/client'
import '../design/theme.css'
import { LinkPage } from './link-page'

createRoot(document.getElementById('root')!).render(<LinkPage />)

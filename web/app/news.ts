import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { News } from '../../core/contract'
import { call, heard } from '../api/call'
import { keys } from '../api/keys'
import { tellJournal } from '../work/journal'

/** Listens to the server's news and asks again for what it concerns. */
export function useNews(): void {
  const client = useQueryClient()
  useEffect(() => {
    let source: EventSource
    let later: ReturnType<typeof setTimeout> | undefined
    const again = () => void client.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'session' })
    let first = true
    const listen = () => {
      source = new EventSource('/api/events')
      source.addEventListener('again', () => {
        if (!first) again()
        // What was asked for before anybody listened may have changed since.
        else void client.invalidateQueries({ queryKey: keys.search() })
        first = false
      })
      source.addEventListener('ended', () => void call('settings', {}).catch(() => {}))
      source.onmessage = ({ data }) => hear(data)
      source.onerror = () => {
        if (source.readyState !== EventSource.CLOSED) return
        // The server refuses: perhaps this session was ended elsewhere. Asking tells, and says so on the screen.
        void call('settings', {}).catch(() => {})
        later = setTimeout(listen, 5000)
      }
    }
    const hear = (data: string) => {
      const news = News.safeParse(JSON.parse(data)).data
      if (!news) return
      heard(news)
      if (news.about === 'place') {
        void client.invalidateQueries({ queryKey: keys.place(news.shareId) })
        void client.invalidateQueries({ queryKey: keys.names(news.shareId) })
        void client.invalidateQueries({ queryKey: keys.sideLists() })
      }
      if (news.about === 'file') {
        void client.invalidateQueries({ queryKey: keys.file(news.fileId) })
        void client.invalidateQueries({ queryKey: keys.recent() })
        void client.invalidateQueries({ queryKey: keys.watched() })
      }
      if (news.about === 'names') {
        const concerned = ['naming', 'names', 'file', 'recent', 'removed', 'templates', 'search', 'audit', 'shares']
        void client.invalidateQueries({ predicate: ({ queryKey }) => concerned.includes(String(queryKey[0])) })
      }
      if (news.about === 'copies') {
        void client.invalidateQueries({ queryKey: keys.copies() })
        // How far a file has got tells of its copies.
        void client.invalidateQueries({ queryKey: keys.file() })
      }
      if (news.about === 'words') {
        void client.invalidateQueries({ queryKey: keys.search() })
        // How many files a share has is counted with its words.
        void client.invalidateQueries({ queryKey: keys.shares() })
      }
      if (news.about === 'presence') void client.invalidateQueries({ queryKey: keys.presence(news.fileId) })
      if (news.about === 'mail') {
        for (const key of [keys.sent(), keys.undelivered(), keys.mail(), keys.people()])
          void client.invalidateQueries({ queryKey: key })
      }
      if (news.about === 'printing') {
        for (const key of [keys.printing(), keys.printers(), keys.printed()])
          void client.invalidateQueries({ queryKey: key })
      }
      if (news.about === 'draft') {
        void client.invalidateQueries({ queryKey: keys.pieces() })
        // Whoever goes on with it elsewhere is heard of at once.
        tellJournal({ do: 'look', draftId: news.draftId })
      }
    }
    listen()
    return () => {
      clearTimeout(later)
      source.close()
    }
  }, [client])
}

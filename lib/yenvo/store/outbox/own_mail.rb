# frozen_string_literal: true

require "base64"
require "openssl"

module Yenvo
  module Store
    # Mails to the people of the house themselves: of what they chose to be told by mail at once, and the daily one.
    # Each names a token with which whoever got it is sent no more of that kind, without signing in (RFC 8058).
    class OwnMail < Base
      # The kind under which the daily mail is stopped.
      DAILY = "daily mail"
      SUBJECT = 120
      # Local minute of the day at which the daily mail comes, and days within which a working day is looked for.
      AT = 480
      WITHIN = 60
      # Lines of each part of the daily mail.
      LINES = 30
      LINK = HouseMail::LINK

      # Rows that are dealt with at one go.
      AT_ONCE = 50

      # Writes mails of notices for those who chose that.
      # @return [Integer] how many notices were looked at
      def at_once(now:)
        return 0 if db[:notices].where(by_mail: true).empty?

        root.transaction do
          rows = db[:notices].where(by_mail: true).order(:id).limit(AT_ONCE).for_update.skip_locked.all
          seen = rows.group_by { |row| row[:person] }.flat_map { |person, some| root.notices.shown(person, some) }
          write(seen.map { |row| [row[:person], *row.values_at(:text, :text, :what), place(row)] }, now)
          db[:notices].where(id: column(rows, :id)).update(by_mail: nil)
        end
      end

      # Writes the daily mail of one person whose hour has come.
      # @return [Integer] how many were looked at
      def daily(now:)
        root.transaction do
          row = db[:people].where(active: true).where { daily_due_at <= now }.for_update.skip_locked.first
          next 0 unless row

          since = row[:daily_since] || (now - 86_400)
          text = daily_text(row, since, now)
          subject = "Your day at #{root.setup_store.house_name}"
          write([[row[:key], subject, text, DAILY, "/worklist"]], now) if text
          db[:people].where(key: row[:key]).update(daily_due_at: due(row, now), daily_since: now)
          1
        end
      end

      # @param row [Hash] of a person
      # @return [Time, nil] when their next daily mail comes; nil where nobody would work for long
      def due(row, after)
        zone = Core::Zone.new(row[:zone] || schema.zone)
        today = zone.date_of(after)
        day = (today..(today + WITHIN)).find { |date| works?(row[:key], date) && zone.at(date, AT) > after }
        day && zone.at(day, AT)
      end

      # @return [String] what stops mails of a kind to a person
      def token(person, kind)
        plain = encoded(person, kind)
        "#{plain}.#{signature(plain)}"
      end

      # @return [Array(String, String), nil] person and kind; nil where the token is none of this house
      def read(token)
        plain, given = token.to_s.split(".", 2)
        return unless plain && given && OpenSSL.secure_compare(signature(plain), given)

        Base64.urlsafe_decode64(plain).force_encoding(Encoding::UTF_8).split("\n", 2)
      rescue ArgumentError
        nil
      end

      private

      # @return [String, nil] the address of the house
      def from = root.setup_store.setting("mail_from", nil)

      # @param wanted [Array<Array>] person, subject, text, kind and place of each
      def write(wanted, at)
        return unless from

        emails = db[:people].where(key: wanted.map(&:first), active: true).select_hash(:key, :email)
        known = wanted.select { |key, *| emails.key?(key) }
        root.outbox.write(known.map { |key, *words| new(emails[key], key, words, at) })
      end

      def new(to, key, words, at)
        subject, text, kind, place = words
        content = {
          "to" => to, "subject" => subject[0, SUBJECT], "text" => "#{text}\n\n#{LINK}", "link" => place,
          "stop" => [key, kind], **Outbox::New.thread(place[TASK, 1])
        }
        Outbox::New.new(way: "mail", destination: HouseMail::DESTINATION, content:, cause: Journal::Cause.house(at),
          due: at)
      end

      # Of which task a place tells.
      TASK = /\btask=(\d+)/
      private_constant :TASK

      def place(row)
        return "/worklist?who=all&task=#{row[:task_id]}" if row[:task_id]
        return "/record/#{row[:record_id]}" if row[:record_id]

        row[:rule_id] ? "/rules/#{row[:rule_id]}" : "/notices"
      end

      def encoded(*parts) = Base64.urlsafe_encode64(parts.join("\n"), padding: false)

      def signature(plain) =
        OpenSSL::HMAC.hexdigest("SHA256", root.secret, "unsubscribe #{plain}")[0, 32]

      def works?(key, date) = calendar.working_day?(date) && calendar.away_until(key, date).nil?

      # @return [String, nil] nil where there is nothing to say
      def daily_text(row, since, now)
        late, today = tasks(row[:key], now).partition { |task| task[:due_at] <= now }
        parts = {"Late" => lines(late), "Today" => lines(today), "Told since" => told(row[:key], since, now)}
        said = parts.reject { |_, lines| lines.empty? }
        said.map { |head, lines| part(head, lines) }.join("\n\n") if said.any?
      end

      def part(head, lines) = [head, *lines.map { |line| "- #{line}" }].join("\n")

      # Open tasks of a person that are late, or due before the day is over.
      def tasks(key, now)
        over = calendar.zone.midnight(calendar.date_of(now) + 1)
        mine = root.task_rows.open.where(assignee: key).where { due_at <= over }
        Sight.new(root, key).narrow_tasks(mine).order(:due_at, :id).limit(LINES).all
      end

      def lines(tasks) = tasks.map { |task| line(task) }
      def line(task) = "#{task[:title]}, due #{Core::Show.date(task[:due_on])}"

      def told(key, since, now)
        daily = schema.person(key)&.kinds_told("daily").to_a
        root.notices.between(key, since, now).select { |row| daily.include?(row[:what]) }.first(LINES)
          .map { |row| row[:text] }
      end
    end
  end
end

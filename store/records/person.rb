# frozen_string_literal: true

require "bcrypt"

module Northdrift
  module Store
    # Somebody who uses it. One that may not any more stays, disabled, since what they did has their name.
    class Person < Record
      self.table_name = "people"

      MOST_NAME = 80

      Unfit = Class.new(Error)

      has_many :memberships, dependent: :delete_all
      has_many :teams, -> { order(:key) }, through: :memberships

      scope :enabled, -> { where(disabled_us: nil).order(:key) }
      scope :administrators, -> { enabled.where(role: People::Role::HIGHEST) }
      # Who may take alerts: those who see everything, and do more than look.
      scope :responders, -> { enabled.where(role: People::Role::NAMES.drop(1), sight: nil) }

      class << self
        # @return [String] what a name is compared by
        def key(name) = name.strip.unicode_normalize(:nfkc).downcase

        # @return [Person, nil]
        def named(name) = find_by(key: key(name))

        # @param role [String] see {People::Role}
        # @param sight [String] what they may see, see {Sight}; everything where it is empty
        # @param password [String, nil] nil where they choose it themselves, by an {Invitation}
        # @return [Person]
        # @raise [Unfit, Sight::Unfit, People::Password::Unfit]
        def add(name, role:, sight: "", password: nil)
          name = fit(name, "a person")
          raise Unfit, "there is a #{name} already" if exists?(key: key(name))

          role = role(role)
          sight = Sight.of_role(sight, role)
          digest = password && digest(People::Password.check(password, name: name))
          now = Clock.now_us
          create!(
            name: name, key: key(name), role: role, own_sight: sight, sight: sight, password_digest: digest,
            created_us: now, changed_us: now
          )
        end

        # Takes as long for a name that there is not, so that nobody learns which there are.
        # @return [Person, nil] nil when the name, the password, or both are wrong
        def authenticate(name, password)
          person = enabled.find_by(key: key(name))
          # bcrypt takes no NUL, which no password has, and ends at {People::Password::MOST} bytes.
          tried = password.tr("\0", "\u{FFFD}").byteslice(0, People::Password::MOST)
          given = BCrypt::Password.new(person&.password_digest || nobodys) == tried
          person if given && person&.password_digest
        end

        # Who logs in at another provider. Somebody who has no password here is known by a name that it vouches for;
        # from then on by the number there.
        # @param subject [String]
        # @param names [Array<String>]
        # @param name [String, nil] for people
        # @param role [String] of who is not known here; empty: nobody is let in who is not
        # @return [Person, nil]
        # @raise [Unfit] when the name is somebody else's here
        def of_provider(subject, names, name:, role: "")
          known = find_by(subject: subject)
          return (known if known.disabled_us.nil?) if known

          expected = enabled.find_by(key: names.map { |one| key(one) }, subject: nil, password_digest: nil)
          return expected.tap { |one| one.update!(subject: subject, changed_us: Clock.now_us) } if expected
          return if role.empty?

          add(names.first || name.to_s, role: role).tap { |one| one.update!(subject: subject) }
        end

        # @return [String] of a password
        def digest(password) = BCrypt::Password.create(password).to_s

        # @return [String] the role
        # @raise [Unfit]
        def role(name)
          return name if People::Role::NAMES.include?(name)

          raise Unfit, "there is no role “#{Text.display(name)}”; there are #{People::Role::NAMES.join(', ')}"
        end

        # @param whose [String] for the message
        # @return [String] the name
        # @raise [Unfit]
        def fit(name, whose)
          name = name.strip
          raise Unfit, "#{whose} needs a name" if name.empty?
          raise Unfit, "a name has #{MOST_NAME} characters at most" if name.length > MOST_NAME
          raise Unfit, "a name is one line of text" if name.match?(/[[:cntrl:]]/)

          name
        end

        private

        # No password fits it.
        def nobodys = @nobodys ||= digest(SecureRandom.hex)
      end

      # @return [Boolean] whether it is the only one who can add people
      def last_administrator? = self.class.administrators.ids == [id]

      # All their browsers are logged out, but for one.
      # @param except [String, nil] id of a session
      def choose_password(password, except: nil)
        digest = self.class.digest(People::Password.check(password, name: name))
        update!(password_digest: digest, changed_us: Clock.now_us)
        Session.where(person_id: id).where.not(id: except).delete_all
        Invitation.where(person_id: id).delete_all
      end

      # @raise [Unfit, Sight::Unfit]
      def take_role(role)
        role = self.class.role(role)
        keep_an_administrator unless role == People::Role::HIGHEST
        update!(role: role, own_sight: Sight.of_role(own_sight.to_s, role), changed_us: Clock.now_us)
        settle_sight
      end

      # @param find [String] what they may see of what their teams see, see {Sight}; all of it where it is empty
      # @raise [Sight::Unfit]
      def take_sight(find)
        update!(own_sight: Sight.of_role(find, role), changed_us: Clock.now_us)
        settle_sight
      end

      # An address as RFC 5321, section 4.1.2, has it, without quoted ones and address literals.
      ADDRESS = %r{\A[\w.!#$%&'*+/=?^`{|}~-]{1,64}@[a-zA-Z\d](?:[a-zA-Z\d.-]{0,252}[a-zA-Z\d])?\z}

      # @param address [String] where they are told of alerts; nowhere where it is empty
      # @raise [Unfit]
      def take_mail(address)
        address = address.strip
        raise Unfit, "“#{Text.display(address)}” is no mail address" unless address.empty? || ADDRESS.match?(address)

        update!(mail: address.presence, changed_us: Clock.now_us)
      end

      # What they see by now: what any of their teams does that is limited, and within their own limit.
      def settle_sight
        return update!(sight: nil) if People::Role.enough?(role, Sight::LEAST_WHOLE)

        of_teams = Sight.any(teams.where.not(sight: nil).order(:id).pluck(:sight))
        update!(sight: Sight.all([own_sight, of_teams].compact))
      end

      # @return [SecondFactor]
      def factor = SecondFactor.new(self)

      # @raise [Unfit]
      def disable
        keep_an_administrator
        update!(disabled_us: Clock.now_us, changed_us: Clock.now_us)
        Session.where(person_id: id).delete_all
        Invitation.where(person_id: id).delete_all
      end

      def enable = update!(disabled_us: nil, changed_us: Clock.now_us)

      private

      def keep_an_administrator
        raise Unfit, "#{name} is the only administrator; make another one first" if last_administrator?
      end
    end
  end
end
